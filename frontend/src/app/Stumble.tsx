import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { Component, type ReactNode } from "react";

/** Says so where a page fails, instead of an empty window; what was typed into drafts is kept. */
export class Stumble extends Component<{ children: ReactNode }, { fault: Error | null }> {
  override state: { fault: Error | null } = { fault: null };

  static getDerivedStateFromError(fault: Error) {
    return { fault };
  }

  override render() {
    if (!this.state.fault) return this.props.children;
    return (
      <Box role="alert" sx={{ p: 3, maxWidth: 620 }}>
        <p>This page failed: {this.state.fault.message}. Nothing that was booked is lost.</p>
        <Button variant="outlined" color="inherit" onClick={() => window.location.reload()}>
          Load it again
        </Button>
      </Box>
    );
  }
}

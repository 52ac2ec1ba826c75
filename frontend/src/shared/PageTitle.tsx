import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { Fragment, useEffect, type ReactNode } from "react";
import { Link } from "react-router";
import type { Schemas } from "./api/client";
import { VerdictLine } from "./VerdictLine";

export interface Crumb {
  name: string;
  to?: string;
}

interface Props {
  title: string;
  verdict?: Schemas["VerdictOut"];
  /** Where figures of the verdict lead to, by their names. */
  links?: Record<string, string>;
  plain?: string;
  crumbs?: Crumb[];
  children?: ReactNode;
}

/** A page: where it is, its sentence (or a plain heading), then its content. */
export function PageTitle({ title, verdict, plain, crumbs, links, children }: Props) {
  useEffect(() => {
    document.title = `${title} · Tobbix`;
  }, [title]);
  return (
    <>
      {crumbs && (
        <Typography
          component="nav"
          aria-label="Where this is"
          variant="body2"
          sx={{ color: "text.secondary", mb: 1 }}
        >
          {crumbs.map((crumb, index) => (
            <Fragment key={crumb.name}>
              {index > 0 && " / "}
              {crumb.to ? <Link to={crumb.to}>{crumb.name}</Link> : crumb.name}
            </Fragment>
          ))}
        </Typography>
      )}
      {verdict ? (
        <VerdictLine verdict={verdict} links={links} />
      ) : (
        <Typography variant="h1">{plain ?? title}</Typography>
      )}
      <Box sx={{ mt: 2.5 }}>{children}</Box>
    </>
  );
}

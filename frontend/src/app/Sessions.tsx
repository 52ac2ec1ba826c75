import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { client, take } from "../shared/api/client";
import { moment } from "../shared/format";
import { Section } from "../shared/Section";
import { Heads, Table } from "../shared/Table";
import { useAct } from "../shared/useAct";
import { Answer } from "../shared/Answer";

/** Where the owner is signed in, and a way to end all of it but here. */
export function Sessions() {
  const open = useQuery({ queryKey: ["sign-ins"], queryFn: () => take(client.GET("/api/sign-ins")) });
  const end = useAct(() => take(client.DELETE("/api/sign-ins")), {
    keys: ["sign-ins"],
    text: "Every other session is ended.",
  });
  if (!open.data) return <Answer of={open} />;
  const { sessions, idle_hours, longest_days } = open.data;
  return (
    <Section
      title="Where you are signed in"
      point={`a session ends after ${idle_hours} hours without use, and after ${longest_days} days`}
    >
      <Table label="Open sessions">
        <Heads of={["Browser", "Since", "Last used"]} />
        <tbody>
          {sessions.map((session) => (
            <tr key={`${session.began_at} ${session.seen_at}`} data-row>
              <td>
                {browserName(session.browser)}
                {session.is_this && " (here)"}
              </td>
              <td>{moment(session.began_at)}</td>
              <td>{moment(session.seen_at)}</td>
            </tr>
          ))}
        </tbody>
      </Table>
      <Button
        variant="outlined"
        color="inherit"
        disabled={sessions.length < 2 || end.isPending}
        onClick={() => end.mutate(undefined)}
        sx={{ mt: 1.5 }}
      >
        End all others
      </Button>
    </Section>
  );
}

/** A browser by what it says of itself: enough to know one's own. */
export function browserName(said: string): string {
  const system = /Android|iPhone|iPad|Windows|Macintosh|Linux/.exec(said)?.[0];
  const family = /Firefox|Edg|Chrome|Safari/.exec(said)?.[0]?.replace("Edg", "Edge");
  if (!family) return said ? said.slice(0, 40) : "did not say";
  return system ? `${family}, ${system.replace("Macintosh", "Mac")}` : family;
}

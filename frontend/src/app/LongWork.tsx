import Box from "@mui/material/Box";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { client, take, type Schemas } from "../shared/api/client";
import { moment } from "../shared/format";
import { isAlive, useStop } from "../shared/longWork";
import { Progress } from "../shared/Progress";

type Task = Schemas["TaskOut"];

const FEW = 8;
const KINDS: Record<string, { name: string; page?: string }> = {
  boxes: { name: "Boxes opened", page: "/sure" },
  worlds: { name: "Worlds of prices", page: "/sure" },
  set: { name: "A set completed", page: "/set" },
  revalue: { name: "Valued anew" },
  borrow: { name: "Values borrowed" },
  markets: { name: "Markets asked" },
  fetch: { name: "Prices fetched" },
};

/** Where the result of long work is shown; what it is about says so. */
export function pathOf({ kind, belongs_to, number }: Pick<Task, "kind" | "belongs_to" | "number">) {
  if (kind === "revalue") return "/pricing";
  if (kind === "borrow") return "/pricing/-/borrowed";
  if (kind === "markets") return `/selling/-/listings?errand=${number}`;
  if (kind === "fetch") return `/pricing/-/fetch?fetch=${number}`;
  const about = /^release:([^/]+)\/(.+)$/.exec(belongs_to);
  return about && KINDS[kind]?.page ? `/products/${about[1]}/${about[2]}${KINDS[kind].page}` : null;
}

/** Long work of every kind, the newest first: how far it is, with a stop, and where its result is once it is done. */
export function LongWork({ close }: { close: () => void }) {
  const found = useQuery({
    queryKey: ["tasks"],
    queryFn: () => take(client.GET("/api/tasks")),
    staleTime: 0,
    refetchInterval: (query) => (query.state.data?.tasks.some(isAlive) ? 1_000 : false),
  });
  const stop = useStop(["simulation", "errands"]);
  const tasks = found.data?.tasks ?? [];
  if (tasks.length === 0) return null;
  return (
    <Box component="section" aria-label="Long work" sx={{ mt: 3 }}>
      <Box component="h2" sx={{ fontSize: 14, m: 0 }}>
        Long work
      </Box>
      {tasks.slice(0, FEW).map((task) => {
        const path = pathOf(task);
        const name = `${KINDS[task.kind]?.name ?? task.kind}: ${task.belongs_to.replace(/^[a-z]+:/, "").replace("/", ", ")}`;
        return (
          <Box key={task.number} sx={{ py: 0.75, borderBottom: 1, borderColor: "divider", fontSize: 13 }}>
            {path ? (
              <Link to={path} onClick={close}>
                {name}
              </Link>
            ) : (
              name
            )}
            {task.state === "done" && task.finished_at && ` finished ${moment(task.finished_at)}`}
            <Progress task={task} stop={() => stop.mutate(task.number)} />
          </Box>
        );
      })}
    </Box>
  );
}

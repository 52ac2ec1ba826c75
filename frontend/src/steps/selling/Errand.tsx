import Box from "@mui/material/Box";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { Link } from "react-router";
import { Answer } from "../../shared/Answer";
import { client, take } from "../../shared/api/client";
import { askAnew } from "../../shared/api/forget";
import { count } from "../../shared/format";
import { isAlive, useStop } from "../../shared/longWork";
import { Progress } from "../../shared/Progress";
import { LISTED } from "./listings";

const FEW = 8;

/** How far markets are asked, and what came of it; once it is over, what it changed is asked anew. */
export function Errand({ number }: { number: number }) {
  const queries = useQueryClient();
  const found = useQuery({
    queryKey: ["errands", number],
    queryFn: () => take(client.GET("/api/listings/errands/{number}", { params: { path: { number } } })),
    refetchInterval: ({ state }) => (isAlive(state.data?.task) ? 500 : false),
  });
  const isOver = found.data !== undefined && !isAlive(found.data.task);
  useEffect(() => {
    if (isOver) void askAnew(queries, [...LISTED, "desk", "tasks"]);
  }, [isOver, number, queries]);
  const stop = useStop(["errands"]);
  const place = useRef<HTMLDivElement>(null);
  const isThere = found.data !== undefined;
  useEffect(() => {
    if (isThere) place.current?.scrollIntoView?.({ block: "nearest" }); // it may have been asked from further down
  }, [number, isThere]);
  if (!found.data) return <Answer of={found} />;
  const { task } = found.data;
  const told = [...found.data.told].sort((one, other) => Number(one.well) - Number(other.well));
  const wrong = told.filter((it) => !it.well).length;
  return (
    <div ref={place}>
      <Progress task={task} stop={() => stop.mutate(number)} />
      {isOver && (
        <Box role="status" aria-label="What came of it" sx={{ fontSize: 14 }}>
          {told.length === 0 && task.state === "done" && "No news."}
          {told.length > FEW &&
            `${count(told.length - wrong)} went well${wrong > 0 ? `, ${count(wrong)} did not` : ""}.`}
          {told.length > 0 && (
            <Box
              component="ul"
              {...(told.length > FEW && { tabIndex: 0, "aria-label": "What came of each" })}
              sx={{ m: 0, pl: 2.25, maxHeight: 240, overflow: "auto" }}
            >
              {told.map((it, at) => (
                <li key={at}>
                  {it.well ? it.text : <b>{it.text}</b>}
                  {it.document !== null && (
                    <>
                      {" "}
                      <Link to={`/selling/${it.document}`}>to its order</Link>
                    </>
                  )}
                </li>
              ))}
            </Box>
          )}
        </Box>
      )}
    </div>
  );
}

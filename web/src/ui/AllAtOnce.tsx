import { type Query, useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useEffect, useState } from "react";

/** After so long, in ms, what is there is shown, whatever else is on its way. */
const LONGEST = 1_000;
const FIRST = { predicate: (query: Query) => query.state.status === "pending" };

/** Shows what is inside when all of it has come for the first time, so that nothing moves under a pointer. */
export function AllAtOnce({ children, className = "" }: { children: ReactNode; className?: string }) {
  const client = useQueryClient();
  const [shown, setShown] = useState(false);
  useEffect(() => {
    if (shown) return;
    const look = () => {
      if (!client.isFetching(FIRST)) setShown(true);
    };
    const timers = [setTimeout(look), setTimeout(() => setShown(true), LONGEST)];
    // what has come asks for more only when it is drawn
    const leave = client.getQueryCache().subscribe(() => timers.push(setTimeout(look, 1)));
    return () => {
      leave();
      timers.forEach(clearTimeout);
    };
  }, [client, shown]);
  return <div className={`${className} ${shown ? "" : "invisible"}`}>{children}</div>;
}

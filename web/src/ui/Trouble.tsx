import { Problem } from "../api/client";

/** An error from the server, in its own words: what happened, where, and what to do. */
export function Trouble({ error }: { error: unknown }) {
  if (!error) return null;
  const known = error instanceof Problem;
  return (
    <div role="alert" className="rounded border border-clay bg-clay-wash px-3 py-2 text-[14px]">
      <p className="font-bold">{known ? error.message : "Something went wrong here."}</p>
      {known && error.place && <p className="num text-[13px]">{error.place}</p>}
      <p>{known ? error.remedy : "Reload the page; what you wrote is kept on the server."}</p>
    </div>
  );
}

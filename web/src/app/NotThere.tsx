import { Link } from "react-router";

/** For an address that leads nowhere. */
export function NotThere() {
  return (
    <div className="mx-auto max-w-xl p-10">
      <h1 className="text-2xl font-bold">This page is not there</h1>
      <p className="mt-2">
        The link may be old, or what it showed was deleted. <Link className="text-leaf underline" to="/">Go to the shelf</Link>.
      </p>
    </div>
  );
}

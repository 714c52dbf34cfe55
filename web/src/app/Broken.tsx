import { Link, useRouteError } from "react-router";

import { Button } from "../ui/Button";

/** What is shown in the place of a view that failed: the rest of the app goes on. */
export function Broken() {
  const error = useRouteError();
  const outdated = error instanceof TypeError && /import|module/i.test(error.message);
  return (
    <div className="mx-auto max-w-xl p-10" role="alert">
      <h1 className="text-2xl font-bold">{outdated ? "Geduld has been renewed meanwhile" : "This view failed"}</h1>
      <p className="mt-2">
        {outdated
          ? "Reload the page to go on with the new version. What you wrote is saved."
          : "That is a fault of Geduld, not yours. What you wrote before is saved. Reload the page; if it fails again, open something else from the shelf and report it."}
      </p>
      <div className="mt-4 flex items-center gap-4">
        <Button strong onClick={() => location.reload()}>
          Reload the page
        </Button>
        <Link to="/" className="text-leaf underline underline-offset-2">
          To the shelf
        </Link>
      </div>
    </div>
  );
}

import { Suspense, useCallback, useState } from "react";
import { Link, Outlet, useLocation } from "react-router";

import { Problem } from "../api/client";
import { useMe } from "../api/hooks";
import { Button } from "../ui/Button";
import { FirstSteps } from "./FirstSteps";
import { purposeOf } from "./purposes";
import { QuickFind } from "./QuickFind";
import { Shortcuts } from "./Shortcuts";
import { useTheme } from "./theme";
import { useAppKeys } from "./useAppKeys";

/** The frame of every view: where you are, who you are, light or dark. */
export function Shell() {
  const me = useMe();
  const { dark, toggle } = useTheme();
  const [dialog, setDialog] = useState<"find" | "keys" | null>(null);
  const find = useCallback(() => setDialog("find"), []);
  const keys = useCallback(() => setDialog("keys"), []);
  const close = useCallback(() => setDialog(null), []);
  useAppKeys(find, keys);
  const purpose = purposeOf(useLocation().pathname);
  return (
    <div className="flex h-full flex-col print:block print:h-auto">
      <a href="#view" className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-sheet focus:p-2">
        Skip to the view
      </a>
      <header className="flex h-11 print:hidden shrink-0 items-center gap-2.5 border-b border-rule px-3 whitespace-nowrap sm:gap-4 sm:px-4">
        <Link to="/" className="flex items-center gap-2 text-lg font-bold tracking-tight">
          <img src="/leaf.svg" alt="" width="20" height="20" />
          <span className="max-sm:sr-only">Geduld</span>
        </Link>
        <nav aria-label="Main">
          <Link to="/" className="underline-offset-4 hover:underline">
            Shelf
          </Link>{" "}
          <Link to="/classes" className="ml-3 underline-offset-4 hover:underline">
            Classes
          </Link>
        </nav>
        <p className="min-w-0 flex-1 truncate pl-2 text-[13px] text-soft max-[900px]:invisible" data-purpose="">
          {purpose}
        </p>
        {me.data && (
          <Button small title="Ctrl+K" onClick={find}>
            <span>
              Open <span className="max-sm:sr-only">by name</span>
            </span>
          </Button>
        )}
        <Button small title="?" className="max-sm:hidden" onClick={keys}>
          Keys
        </Button>
        {me.data && (
          <Link to="/account" className="text-[14px] text-soft underline-offset-4 hover:underline">
            <span className="max-sm:hidden">{me.data.name}</span>
            <span className="sm:hidden">Account</span>
          </Link>
        )}
        <Button small onClick={toggle}>
          {dark ? "Light" : "Dark"}
        </Button>
      </header>
      {me.data && <FirstSteps />}
      {dialog === "find" && <QuickFind onClose={close} />}
      {dialog === "keys" && <Shortcuts onClose={close} />}
      <main id="view" className="relative min-h-0 flex-1 overflow-auto print:overflow-visible">
        {/* nobody waits to be told who they are: who is nobody is told so when the view could not be opened either */}
        {me.error ? (
          <SignedOut error={me.error} />
        ) : (
          <Suspense fallback={<p className="p-6">Opening …</p>}>
            <Outlet />
          </Suspense>
        )}
      </main>
    </div>
  );
}

function SignedOut({ error }: { error: unknown }) {
  const known = error instanceof Problem && error.status === 403;
  return (
    <div className="mx-auto max-w-xl p-10">
      <h1 className="text-2xl font-bold">{known ? "You are not signed in" : "Geduld does not answer"}</h1>
      <p className="mt-2">
        {known ? (
          <>
            <a className="text-leaf underline" href="/sign-in">
              Sign in
            </a>{" "}
            with your name and password, or open the sign-in link that ./start printed: each link works once. Students hand in at{" "}
            <a className="text-leaf underline" href="/hand-in">
              the hand-in page
            </a>
            .
          </>
        ) : (
          "Check that ./start is still running, then reload this page. Nothing is lost."
        )}
      </p>
    </div>
  );
}

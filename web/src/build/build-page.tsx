import { Suspense, useEffect } from "react";
import { Outlet, useParams } from "react-router";
import { SessionProvider, SheetProvider, useSession, useSnapshot } from "../session/context";
import { Button } from "../shared/controls";
import { isTyped, useLeaving } from "../shared/keys";
import { useLibrary } from "../shared/library";
import { Message } from "../shared/page";
import { SkipLink } from "../shared/skip-link";
import { NextLine } from "./next-line";
import { Notices } from "./notices";
import { Rail } from "./rail";
import { TitleBlock } from "./title-block";

/** One build, open: the sections share its session, so that nothing is lost between them. */
export function BuildPage() {
  const { id = "" } = useParams();
  return (
    <SessionProvider id={id} key={id}>
      <Build />
    </SessionProvider>
  );
}

function Build() {
  const session = useSession();
  const { view, status, reason } = useSnapshot();
  const library = useLibrary();
  useUndoKeys();
  useLeaving();
  useEffect(() => {
    document.title = view ? `${view.title} – Cablaggio` : "Cablaggio";
  }, [view]);

  if (status === "missing") return <Message title="There is no such build." />;
  if (status === "gone") {
    return (
      <Message title="This build was deleted.">
        <p>What you changed since is kept, and goes in when it is back.</p>
        <p>
          <Button look="main" onClick={() => session.restoreBuild()}>
            Put it back
          </Button>
        </p>
      </Message>
    );
  }
  if (!view || !library.data) {
    return (
      <main className="p-6" aria-live="polite">
        {status === "away" ? `${reason} Trying again…` : "Opening the build…"}
      </main>
    );
  }
  return (
    <SheetProvider view={view} library={library.data}>
      <div className="flex min-h-screen flex-col lg:h-screen lg:flex-row">
        <SkipLink />
        <Rail />
        <div className="flex min-w-0 grow flex-col">
          <TitleBlock />
          <NextLine />
          <Notices />
          <Suspense fallback={<p className="p-6">Opening…</p>}>
            <Outlet />
          </Suspense>
        </div>
      </div>
    </SheetProvider>
  );
}

function useUndoKeys() {
  const session = useSession();
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.altKey) return;
      // A text field undoes its own typing.
      if (isTyped(event)) return;
      const key = event.key.toLowerCase();
      if (key === "z" && !event.shiftKey) session.undo();
      else if (key === "y" || (key === "z" && event.shiftKey)) session.redo();
      else return;
      event.preventDefault();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [session]);
}

import { Suspense, useEffect } from "react";
import { Link, NavLink, Outlet, useParams } from "react-router";
import { SessionProvider, SheetProvider, useSession, useSnapshot } from "../session/context";
import { Button } from "../shared/controls";
import { isTyped } from "../shared/keys";
import { useLibrary } from "../shared/library";
import { Message } from "../shared/page";
import { Notices } from "./notices";
import { TitleBlock } from "./title-block";

/** One build, open: the stages share its session, so that nothing is lost between them. */
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
        <StageRail />
        <div className="flex min-w-0 grow flex-col">
          <TitleBlock />
          <Notices />
          <Suspense fallback={<p className="p-6">Opening…</p>}>
            <Outlet />
          </Suspense>
        </div>
      </div>
    </SheetProvider>
  );
}

const stage = ({ isActive }: { isActive: boolean }) =>
  `rounded-sheet px-2 py-2 ${isActive ? "border-copper border-b-4 bg-sheet font-semibold lg:border-b-0 lg:border-l-4" : "hover:bg-sheet"}`;

/** The stages of a build. A stage appears when it works. */
function StageRail() {
  return (
    <nav
      aria-label="Stages"
      className="flex shrink-0 gap-1 border-rule border-b bg-wash p-1 lg:w-26 lg:flex-col lg:border-r lg:border-b-0"
    >
      <Link to="/" className="rounded-sheet px-2 py-2 hover:bg-sheet">
        Builds
      </Link>
      <NavLink end to="." className={stage}>
        Plan
      </NavLink>
      <NavLink to="assemble" className={stage}>
        Assemble
      </NavLink>
      <NavLink to="meter" className={stage}>
        Meter
      </NavLink>
      <NavLink to="program" className={stage}>
        Program
      </NavLink>
      <NavLink to="bench" className={stage}>
        Bench
      </NavLink>
      <NavLink to="diagnose" className={stage}>
        Diagnose
      </NavLink>
      <NavLink to="log" className={stage}>
        Log
      </NavLink>
      <Link to="/drawer" className="rounded-sheet px-2 py-2 hover:bg-sheet lg:mt-auto">
        Drawer
      </Link>
    </nav>
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

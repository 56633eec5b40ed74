import { useEffect, useState } from "react";
import { Link, useParams } from "react-router";
import { useLibrary } from "../builds/library";
import { SessionProvider, SheetProvider, useSession, useSnapshot } from "../session/context";
import { Button } from "../shared/controls";
import { Message } from "../shared/page";
import { FindingsPanel } from "./findings-panel";
import { Ledger } from "./ledger";
import { LoadStrip } from "./load-strip";
import { Notices } from "./notices";
import { PartsPanel } from "./parts-panel";
import { TitleBlock } from "./title-block";

export function PlanPage() {
  const { id = "" } = useParams();
  return (
    <SessionProvider id={id} key={id}>
      <Plan />
    </SessionProvider>
  );
}

function Plan() {
  const session = useSession();
  const { view, status } = useSnapshot();
  const library = useLibrary();
  const [selected, select] = useState<string>();
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
        {status === "away" ? "The server does not answer. Trying again…" : "Opening the build…"}
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
          <main className="grid min-h-0 grow grid-cols-1 sm:grid-cols-[minmax(18rem,1fr)_minmax(22rem,1.2fr)] lg:grid-cols-[minmax(16rem,21rem)_minmax(20rem,1fr)_minmax(15rem,19rem)]">
            <PartsPanel selected={selected} onSelect={select} />
            <Ledger selected={selected} onSelect={select} />
            <FindingsPanel onSelect={select} />
          </main>
          <LoadStrip />
        </div>
      </div>
    </SheetProvider>
  );
}

/** The stages of a build. A stage appears when it works. */
function StageRail() {
  return (
    <nav
      aria-label="Stages"
      className="flex shrink-0 gap-1 border-rule border-b bg-wash p-1 lg:w-20 lg:flex-col lg:border-r lg:border-b-0"
    >
      <Link to="/" className="rounded-sheet px-2 py-2 hover:bg-sheet">
        Builds
      </Link>
      <span
        aria-current="page"
        className="rounded-sheet border-copper border-b-4 bg-sheet px-2 py-2 font-semibold lg:border-b-0 lg:border-l-4"
      >
        Plan
      </span>
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
      if (event.target instanceof HTMLInputElement) return;
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

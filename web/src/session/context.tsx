import { createContext, type ReactNode, useContext, useEffect, useState, useSyncExternalStore } from "react";
import type { BuildView, Edit, Kind, Library, Part, PartReport, Profile } from "../api/client";
import { withOwn } from "../api/kinds";
import { thisWindow } from "./browser";
import { BuildSession, type Snapshot } from "./session";

const SessionContext = createContext<BuildSession | undefined>(undefined);

/** Opens a build for everything below it. Give it the build's id as its key. */
export function SessionProvider({ id, children }: { id: string; children: ReactNode }) {
  const [session] = useState(() => new BuildSession(id, thisWindow()));
  useEffect(() => session.open(), [session]);
  return <SessionContext value={session}>{children}</SessionContext>;
}

export function useSession(): BuildSession {
  const session = useContext(SessionContext);
  if (!session) throw new Error("useSession outside of a SessionProvider");
  return session;
}

export function useSnapshot(): Snapshot {
  const session = useSession();
  return useSyncExternalStore(session.subscribe, session.get);
}

/** The open build with its board and the library, as the Plan section reads them. */
export interface Sheet {
  view: BuildView;
  library: Library;
  board: Profile;
  edit: (words: string, ...edits: Edit[]) => void;
  kind: (part: Part) => Kind;
  report: (part: Part) => PartReport | undefined;
}

const SheetContext = createContext<Sheet | undefined>(undefined);

export function SheetProvider({
  view,
  library,
  children,
}: {
  view: BuildView;
  library: Library;
  children: ReactNode;
}) {
  const session = useSession();
  const board = view.profile ?? library.boards.find((b) => b.id === view.document.board);
  if (!board) throw new Error(`no board ${view.document.board}`);
  const all = withOwn(library, view.document.kinds);
  const sheet: Sheet = {
    view,
    library: all,
    board,
    edit: (words, ...edits) => session.edit(words, ...edits),
    kind: (part) => {
      const kind = all.catalogue.kinds.find((k) => k.id === part.kind);
      if (!kind) throw new Error(`no kind ${part.kind}`);
      return kind;
    },
    report: (part) => view.analysis.parts.find((r) => r.id === part.id),
  };
  return <SheetContext value={sheet}>{children}</SheetContext>;
}

export function useSheet(): Sheet {
  const sheet = useContext(SheetContext);
  if (!sheet) throw new Error("useSheet outside of a SheetProvider");
  return sheet;
}

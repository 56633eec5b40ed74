import { useEffect, useRef } from "react";
import { Link, useLocation } from "react-router";
import type { Section, Todo } from "../api/client";
import { useSheet } from "../session/context";
import { addressOf, paths, useTodo } from "./todo";

const sections: [Section, string][] = [
  ["plan", "Plan"],
  ["assemble", "Assemble"],
  ["program", "Program"],
  ["bench", "Bench"],
  ["test", "Test"],
  ["log", "Log"],
];

const entry = "flex shrink-0 items-center gap-1.5 rounded-sheet px-2 py-2";
const chosen =
  "border-copper border-b-4 bg-sheet font-semibold lg:border-b-0 lg:border-l-4 forced-colors:border-[Highlight]";

/** The sections of a build, each with how far it is. */
export function Rail() {
  const { view } = useSheet();
  const { pathname } = useLocation();
  const here = pathname.split("/")[3] ?? "";
  const todo = useTodo();
  const nav = useRef<HTMLElement>(null);
  // What is chosen is in sight, where the sections are wider than the screen.
  // biome-ignore lint/correctness/useExhaustiveDependencies: another address is another choice
  useEffect(() => {
    nav.current?.querySelector("[data-chosen]")?.scrollIntoView({ block: "nearest", inline: "center" });
  }, [pathname]);
  return (
    <nav
      ref={nav}
      aria-label="Sections"
      className="flex shrink-0 gap-1 overflow-x-auto border-rule border-b bg-wash p-1 lg:w-31 lg:flex-col lg:overflow-visible lg:border-r lg:border-b-0"
    >
      <Link to="/" className={`${entry} hover:bg-sheet`}>
        Builds
      </Link>
      {sections.map(([section, name]) => {
        const mark = todo?.marks.find((m) => m.section === section);
        const isChosen =
          here === paths[section] || (section === "test" && (here === "diagnose" || here === "board"));
        return (
          <Link
            key={section}
            aria-current={isChosen ? "page" : undefined}
            to={addressOf(view.id, section)}
            title={mark?.words}
            data-chosen={isChosen || undefined}
            className={`${entry} ${isChosen ? chosen : "hover:bg-sheet"} ${mark?.state === "nothing" && !isChosen ? "text-faint" : ""}`}
          >
            {name}
            <Mark mark={mark} />
          </Link>
        );
      })}
      <Link to={`/drawer?from=${view.id}`} className={`${entry} hover:bg-sheet lg:mt-auto`}>
        Drawer
      </Link>
    </nav>
  );
}

/** Nothing, so many that are open, or done. */
function Mark({ mark }: { mark: Todo["marks"][number] | undefined }) {
  if (mark?.state === "done")
    return (
      <span aria-hidden className="text-good text-small">
        ✓
      </span>
    );
  if (!mark?.count) return null;
  return (
    <span aria-hidden className="rounded-full border border-current px-1.5 font-mono text-xs leading-tight">
      {mark.count}
    </span>
  );
}

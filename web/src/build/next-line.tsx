import { ArrowRight, Check } from "lucide-react";
import { useLocation, useNavigate } from "react-router";
import { useSheet } from "../session/context";
import { Button } from "../shared/controls";
import { useKeys } from "../shared/keys";
import { addressOf, useFreshTodo, useTodo } from "./todo";

/** The next thing to do, always at the same place; a key goes there. */
export function NextLine() {
  const { view } = useSheet();
  const todo = useTodo();
  useFreshTodo();
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const next = todo?.next;
  const go = () => {
    if (!next) return;
    const to = addressOf(view.id, next.section);
    if (pathname.replace(/\/$/, "") !== to) void navigate(to);
    attend(next.section);
  };
  useKeys({ n: go });
  return (
    <section
      aria-label="What to do next"
      className="flex min-h-10 items-center gap-2 border-rule border-b bg-sheet px-4 py-0.5"
    >
      {next && (
        <>
          <span aria-hidden className={next.done ? "text-good" : "text-copper"}>
            {next.done ? <Check size={18} /> : <ArrowRight size={18} />}
          </span>
          <Button look="quiet" className="min-h-8! px-1! font-semibold" onClick={go}>
            <span role="status">{next.done ? next.words : `Next: ${next.words}`}</span>
          </Button>
          <kbd className="ml-auto rounded-sheet border border-ink/40 px-1.5 font-mono text-faint text-small max-md:hidden">
            n
          </kbd>
        </>
      )}
    </section>
  );
}

/** Where one is taken in a section: the place names itself by this attribute. */
const attribute = "data-next";
const looks = 60; // frames that a section may take to open

/** Brings what is to be done into view, and the keyboard to it, once its section is open. */
function attend(section: string, left = looks) {
  const place = document.querySelector<HTMLElement>(`[${attribute}~="${section}"]`);
  if (place) {
    place.scrollIntoView({ block: "nearest" });
    place.focus({ preventScroll: true });
  } else if (left > 0) requestAnimationFrame(() => attend(section, left - 1));
}

import type { ReactNode } from "react";
import { Link } from "react-router";
import { ThemeButton } from "./page";

const places = [
  ["/", "Builds"],
  ["/drill", "Drill"],
  ["/drawer", "Drawer"],
  ["/parts", "Parts"],
  ["/boards", "Boards"],
] as const;

/** The head of the pages that are not a sheet: where one is, and where else one can go. */
export function Head({ here, children }: { here: string; children?: ReactNode }) {
  return (
    <header className="flex flex-wrap items-center gap-x-5 gap-y-2 border-ink border-b-2 pb-3">
      <h1 className="font-semibold text-title tracking-tight">{here === "Builds" ? "Cablaggio" : here}</h1>
      {children}
      <nav aria-label="Places" className="ml-auto flex gap-1">
        {places.map(([to, name]) => (
          <Link
            key={to}
            to={to}
            aria-current={name === here ? "page" : undefined}
            className={`rounded-sheet px-3 py-1.5 hover:bg-wash ${name === here ? "border-copper border-b-4 font-semibold" : ""}`}
          >
            {name}
          </Link>
        ))}
      </nav>
      <ThemeButton />
    </header>
  );
}

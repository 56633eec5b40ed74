import { Moon, Sun } from "lucide-react";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { Button } from "./controls";
import { useTheme } from "./theme";

export function ThemeButton() {
  const [theme, setTheme] = useTheme();
  const next = theme === "dark" ? "light" : "dark";
  return (
    <Button
      look="quiet"
      aria-label={`Use the ${next} sheet`}
      title={`Use the ${next} sheet`}
      onClick={() => setTheme(next)}
    >
      {theme === "dark" ? <Sun size={20} aria-hidden /> : <Moon size={20} aria-hidden />}
    </Button>
  );
}

/** A page that says one thing: why there is nothing to show, and where to go. */
export function Message({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <main className="mx-auto flex min-h-screen max-w-xl flex-col justify-center gap-4 p-6">
      <h1 className="text-title font-semibold">{title}</h1>
      {children}
      <p>
        <Link to="/" className="text-copper underline underline-offset-4">
          All builds
        </Link>
      </p>
    </main>
  );
}

export function NotFound() {
  return <Message title="There is no such page." />;
}

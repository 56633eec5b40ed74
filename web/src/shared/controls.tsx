import type { ComponentProps, ReactNode } from "react";

type ButtonProps = ComponentProps<"button"> & { look?: "plain" | "main" | "quiet" };

const looks = {
  plain: "border border-ink/60 bg-sheet hover:bg-wash",
  main: "border border-copper bg-copper font-semibold text-sheet hover:brightness-110",
  quiet: "border border-transparent hover:bg-wash",
};

export function Button({ look = "plain", className = "", ...rest }: ButtonProps) {
  return (
    <button
      type="button"
      className={`inline-flex items-center justify-center gap-2 rounded-sheet px-3 text-base disabled:opacity-45 ${looks[look]} ${className}`}
      {...rest}
    />
  );
}

/** A choice among few, as the browser's own select: it works with every keyboard and thumb. */
export function Choice({
  label,
  value,
  onChange,
  children,
  hidden = false,
}: {
  label: string;
  value: string;
  onChange: (value: string) => void;
  children: ReactNode;
  hidden?: boolean;
}) {
  return (
    <label className="flex min-w-0 flex-col gap-0.5">
      <span className={hidden ? "sr-only" : "text-small text-faint"}>{label}</span>
      <select
        value={value}
        onChange={(event) => onChange(event.target.value)}
        className="w-full min-w-0 rounded-sheet border border-ink/40 bg-sheet px-2 text-base text-ink"
      >
        {children}
      </select>
    </label>
  );
}

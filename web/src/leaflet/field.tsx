import { useId } from "react";

/** One answer of a leaflet: a line to type into, with what it is in, and what is wrong with it. */
export function Field({
  label,
  value,
  onChange,
  hint = "not known",
  unit,
  error,
  first = false,
}: {
  label: string;
  value: string;
  onChange: (value: string) => void;
  /** What stands in an empty one. */
  hint?: string;
  unit?: string;
  error?: string;
  first?: boolean;
}) {
  const id = useId();
  return (
    <label className="flex min-w-0 flex-col gap-0.5">
      <span className="text-faint text-small">{label}</span>
      <span className="flex items-center gap-2">
        <input
          data-first={first || undefined}
          value={value}
          maxLength={60}
          inputMode={unit ? "decimal" : undefined}
          placeholder={hint}
          onChange={(event) => onChange(event.target.value)}
          aria-invalid={error !== undefined}
          aria-describedby={error ? id : undefined}
          autoComplete="off"
          spellCheck={false}
          className={`w-full min-w-0 rounded-sheet border bg-sheet px-2 placeholder:text-faint ${error ? "border-stop" : "border-ink/40"}`}
        />
        {unit && <span className="shrink-0 text-faint">{unit}</span>}
      </span>
      {error && (
        <span id={id} className="text-small text-stop">
          {error}
        </span>
      )}
    </label>
  );
}

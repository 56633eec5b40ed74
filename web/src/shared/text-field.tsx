/** A line to type into that its owner holds: names of holes, legs, wires. */
export function TextField({
  label,
  value,
  onChange,
  example,
  className = "w-32",
  errorId,
}: {
  label: string;
  value: string;
  onChange: (value: string) => void;
  example: string;
  className?: string;
  /** The id of what says why it was not taken. */
  errorId?: string;
}) {
  return (
    <label className={`flex flex-col gap-0.5 ${className}`}>
      <span className="text-faint text-small">{label}</span>
      <input
        value={value}
        maxLength={120}
        onChange={(event) => onChange(event.target.value)}
        placeholder={example}
        autoComplete="off"
        spellCheck={false}
        aria-invalid={errorId !== undefined}
        aria-describedby={errorId}
        className="rounded-sheet border border-ink/40 bg-sheet px-2 font-mono placeholder:text-faint"
      />
    </label>
  );
}

/** A field to find something by a word. */
export function SearchField({ value, onChange }: { value: string; onChange: (value: string) => void }) {
  return (
    <label className="flex items-center gap-2">
      <span className="text-faint">Find</span>
      <input
        type="search"
        value={value}
        maxLength={120}
        onChange={(event) => onChange(event.target.value)}
        className="w-44 rounded-sheet border border-ink/40 bg-sheet px-2"
      />
    </label>
  );
}

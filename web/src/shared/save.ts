/** Saves something as a file on this computer. */
export function save(file: Blob, name: string): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(file);
  link.download = name;
  link.click();
  // The browser reads it after the click.
  setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
}

/** The same of a text. */
export const saveText = (text: string, name: string) => save(new Blob([text], { type: "text/plain" }), name);

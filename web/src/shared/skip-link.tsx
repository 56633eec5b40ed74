/** The first thing that Tab comes to: past what all pages have, to what this one is for. */
export function SkipLink() {
  return (
    <button
      type="button"
      className="sr-only z-50 bg-copper px-4 py-2 text-sheet focus:not-sr-only focus:absolute"
      onClick={() => {
        const main = document.querySelector<HTMLElement>("main");
        if (!main) return;
        main.tabIndex = -1;
        main.focus();
      }}
    >
      Skip to the work
    </button>
  );
}

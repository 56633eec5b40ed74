/** A ref that brings an element into view as soon as it is there. */
export const inView = (e: HTMLElement | null) => e?.scrollIntoView({ block: "nearest" });

import type { Kind, Library } from "./client";

/** Whether a builder described a kind: the catalogue's own ids never begin so (part.OwnPrefix). */
export const isOwn = (kind: Kind) => kind.id.startsWith("own-");

/** The library with the kinds of parts that a build brings along, as they were when it got them. */
export function withOwn(library: Library, kinds: Kind[] | undefined): Library {
  if (!kinds?.length) return library;
  const others = library.catalogue.kinds.filter((k) => !kinds.some((own) => own.id === k.id));
  return { ...library, catalogue: { kinds: [...others, ...kinds] } };
}

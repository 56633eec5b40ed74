/** What of a run the strip shows: so many seconds, until a time or, without one, until now. */
export interface View {
  span: number;
  end?: number;
}

/** From microseconds to half a day. */
const least = 20e-6;
const most = 12 * 3600;

/** The stretch of time that is shown, in seconds; it does not begin before the run. */
export function shown(view: View, now: number): { from: number; to: number } {
  const to = Math.max(view.end ?? now, view.span);
  return { from: to - view.span, to };
}

/** Shows so many times as long a stretch; what is at a time, where one is given, stays where it is. */
export function zoomed(view: View, times: number, now: number, at?: number): View {
  const span = Math.min(most, Math.max(least, view.span * times));
  if (at === undefined) return { ...view, span };
  const { from } = shown(view, now);
  return settled(span, at + (1 - (at - from) / view.span) * span, now);
}

/** Shows what was earlier, or later, by so many seconds. */
export function moved(view: View, by: number, now: number): View {
  return settled(view.span, shown(view, now).to + by, now);
}

/** Where the end of what is shown is now, it goes on with it. */
function settled(span: number, end: number, now: number): View {
  return end >= now ? { span } : { span, end: Math.max(end, span) };
}

/** A time as finely as what is shown asks for. */
export function timeText(seconds: number, span: number): string {
  return seconds.toFixed(Math.min(7, Math.max(1, Math.ceil(2 - Math.log10(span)))));
}

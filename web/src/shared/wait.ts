/** How long to wait before the next try, in milliseconds: longer after each failure, at most a minute. */
export function waitLonger(failures: number): number {
  return Math.min(1000 * 2 ** failures, 60_000);
}

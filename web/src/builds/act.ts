/** Does something with builds: what goes wrong is shown, and the list is read again. */
export type Act = (work: () => Promise<unknown>) => Promise<void>;

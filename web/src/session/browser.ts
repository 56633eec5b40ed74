import { answer, api } from "../api/client";
import type { Server, Surroundings } from "./session";
import type { Places } from "./waiting";

const server: Server = {
  get: (id) => answer(api.GET("/api/builds/{id}", { params: { path: { id } } })),
  edit: (id, tag, step) =>
    answer(
      api.POST("/api/builds/{id}/edits", {
        params: { path: { id }, header: { "If-Match": `"${tag}"`, "Idempotency-Key": step.key } },
        body: { edits: step.edits },
      }),
    ),
  undo: (id, tag) => answer(api.POST("/api/builds/{id}/undo", at(id, tag))),
  redo: (id, tag) => answer(api.POST("/api/builds/{id}/redo", at(id, tag))),
  restore: (id) => answer(api.POST("/api/builds/{id}/restore", { params: { path: { id } } })),
};

function at(id: string, tag: string) {
  return { params: { path: { id }, header: { "If-Match": `"${tag}"` } } };
}

const lockOf = (tab: string) => `cablaggio.tab.${tab}`;

/** The name of this window: a reload keeps it, and it is locked while the window is open. */
function nameOfTab(): string {
  let name: string = crypto.randomUUID();
  try {
    name = window.sessionStorage.getItem("cablaggio.tab") ?? name;
    window.sessionStorage.setItem("cablaggio.tab", name);
  } catch {
    // Without it, a reload takes over what its own steps are as those of a window that is gone.
  }
  void navigator.locks.request(lockOf(name), () => new Promise(() => {}));
  return name;
}

/** The browser's storage; where it has none, what throws when it is used. */
function storage(): Places {
  try {
    return window.localStorage;
  } catch {
    const none = () => {
      throw new Error("this browser keeps nothing");
    };
    return { length: 0, key: () => null, getItem: () => null, setItem: none, removeItem: none };
  }
}

let tab: string | undefined;

/** The browser's window as a session needs it. */
export function thisWindow(): Surroundings {
  tab ??= nameOfTab();
  return {
    server,
    storage: storage(),
    tab,
    tabs: async () => {
      const { held = [], pending = [] } = await navigator.locks.query();
      return new Set([...held, ...pending].map((l) => (l.name ?? "").replace(lockOf(""), "")));
    },
    visible: () => window.document.visibilityState === "visible",
    onWake: (wake) => {
      const seen = () => {
        if (window.document.visibilityState === "visible") wake();
      };
      window.addEventListener("online", seen);
      window.document.addEventListener("visibilitychange", seen);
      return () => {
        window.removeEventListener("online", seen);
        window.document.removeEventListener("visibilitychange", seen);
      };
    },
  };
}

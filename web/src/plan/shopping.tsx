import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { answer, api } from "../api/client";
import { useSheet } from "../session/context";
import { Button } from "../shared/controls";
import { Dialog } from "../shared/dialog";
import { download } from "../shared/download";

/** What the build needs, beside what the drawer has of it. */
export function Shopping({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const { view, edit } = useSheet();
  const list = useQuery({
    queryKey: ["shopping", view.id, view.tag],
    queryFn: () => answer(api.GET("/api/builds/{id}/shopping", { params: { path: { id: view.id } } })),
    enabled: open,
    staleTime: 0,
  });
  const buy = list.data?.reduce((n, l) => n + l.buy, 0) ?? 0;
  const other = list.data?.some((l) => l.instead);
  return (
    <Dialog title="Shopping list" open={open} onOpenChange={onOpenChange} wide>
      {list.isPending && <p>Looking into the drawer…</p>}
      {list.error && <p role="alert">{list.error.message}</p>}
      {list.data?.length === 0 && <p>There is nothing in the plan yet.</p>}
      {list.data && list.data.length > 0 && (
        <>
          <p className="mb-3 text-large">
            {buy === 0
              ? "All of it is in the drawer."
              : `${buy} ${buy === 1 ? "part is" : "parts are"} to be bought.`}{" "}
            <Link to="/drawer" className="underline">
              What is in the drawer
            </Link>
          </p>
          <table className="w-full border-collapse">
            <thead>
              <tr className="border-ink border-b text-left">
                <th className="py-1 pr-3">Part</th>
                <th className="py-1 pr-3 text-right">Needed</th>
                <th className="py-1 pr-3 text-right">Have</th>
                <th className="py-1 pr-3 text-right">Buy</th>
                {other && <th className="py-1 pl-3">Or take instead</th>}
              </tr>
            </thead>
            <tbody>
              {list.data.map((l) => (
                <tr key={l.what + l.value} className="border-rule border-b">
                  <td className="py-2 pr-3">
                    <span className="font-semibold">
                      {l.what} {l.value}
                    </span>
                    <span
                      className="block max-w-md truncate text-faint text-small"
                      title={l.names.join(", ")}
                    >
                      {l.names.join(", ")}
                    </span>
                  </td>
                  <td className="py-2 pr-3 text-right font-mono">{l.needed}</td>
                  <td className="py-2 pr-3 text-right font-mono">{l.have}</td>
                  <td
                    className={`py-2 pr-3 text-right font-mono ${l.buy > 0 ? "font-semibold" : "text-faint"}`}
                  >
                    {l.buy}
                  </td>
                  {other && (
                    <td className="py-2 pl-3">
                      {l.instead && (
                        <Button
                          aria-label={`Take ${l.instead.value} for ${l.names.join(", ")}`}
                          onClick={() =>
                            edit(
                              `take ${l.instead?.value} for ${l.names.join(", ")}`,
                              ...(l.instead?.edits ?? []),
                            )
                          }
                        >
                          {l.instead.value}
                        </Button>
                      )}
                    </td>
                  )}
                </tr>
              ))}
            </tbody>
          </table>
          <p className="mt-3 flex justify-end gap-2">
            <Button onClick={() => void download(`/api/builds/${view.id}/shopping/file/shopping.pdf`)}>
              Print it (PDF)
            </Button>
            <Button onClick={() => void download(`/api/builds/${view.id}/shopping/file/shopping.csv`)}>
              Save as a table (CSV)
            </Button>
          </p>
        </>
      )}
    </Dialog>
  );
}

import { useState } from "react";
import { FindingsPanel } from "./findings-panel";
import { Ledger } from "./ledger";
import { LoadStrip } from "./load-strip";
import { PartsPanel } from "./parts-panel";

/** The Plan section: parts, the pins of the board, what was found, and what it all carries. */
export function Plan() {
  const [selected, select] = useState<string>();
  return (
    <>
      <main className="grid min-h-0 grow grid-cols-1 sm:grid-cols-[minmax(18rem,1fr)_minmax(22rem,1.2fr)] lg:grid-cols-[minmax(16rem,21rem)_minmax(20rem,1fr)_minmax(15rem,19rem)]">
        <PartsPanel selected={selected} onSelect={select} />
        <Ledger selected={selected} onSelect={select} />
        <FindingsPanel onSelect={select} />
      </main>
      <LoadStrip />
    </>
  );
}

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api, type Part, type PinReport, type Profile } from "../api/client";
import { useSheet } from "../session/context";
import { Bar } from "../shared/bar";
import { Button } from "../shared/controls";
import { LevelMark } from "../shared/level";
import { WorkingButton } from "../shared/working";
import type { Selection } from "./parts-panel";
import { priceWords } from "./pin-choice";

/** The board's places in their physical order, each with what it carries. */
export function Ledger(selection: Selection) {
  const { board, view, edit } = useSheet();
  const [dragged, drag] = useState<Dragged>();
  const prices = useQuery({
    queryKey: ["pins", view.id, view.tag, dragged?.part.id, dragged?.signal.name],
    queryFn: () =>
      answer(
        api.GET("/api/builds/{id}/pins/{part}/{signal}", {
          params: { path: { id: view.id, part: dragged?.part.id ?? "", signal: dragged?.signal.name ?? "" } },
        }),
      ),
    enabled: dragged !== undefined,
  });
  /** What moving the dragged signal to a pin would cost, in words; nothing when it cannot go there. */
  const price = (pin: string): Price | undefined => {
    if (!dragged || !prices.data || pin === dragged.signal.pin) return undefined;
    const other = prices.data.other.find((p) => p.pin === pin);
    if (!other) return undefined;
    if (!other.possible) return { words: other.reasons[0] ?? "", possible: false };
    return { words: `${other.with ? "exchange" : "free"}, ${priceWords(other)}`, possible: true };
  };
  const drop = (pin: string) => {
    if (!dragged || !price(pin)?.possible) return;
    const free = !prices.data?.other.find((p) => p.pin === pin)?.with;
    edit(`${free ? "move" : "exchange"} ${dragged.part.name} to ${pin}`, {
      op: free ? "pin" : "swap",
      part: dragged.part.id,
      signal: dragged.signal.name,
      pin,
    });
    drag(undefined);
  };
  // A header takes the room that its longest line wants: the pin, its users, and what it carries.
  const names = new Map(view.document.parts.map((p) => [p.id, p.name]));
  const weights = board.headers.map((header) => {
    const used = view.analysis.pins.filter((pin) => header.places.includes(pin.pin));
    const letters = used.map((pin) => pin.parts.map((id) => names.get(id) ?? "").join(" + ").length);
    return Math.max(12, ...letters.map((n) => Math.min(n, 24) + 22));
  });
  return (
    <section
      aria-labelledby="ledger-heading"
      className="@container flex min-h-0 flex-col border-rule lg:border-r"
    >
      <div className="flex min-h-13 items-center justify-between gap-2 border-rule border-b px-4 py-2">
        <h2 id="ledger-heading" className="font-semibold">
          Pins
        </h2>
        <p className="grow text-faint text-small">as on the board, USB socket at the top</p>
        <Button
          title="Choose every pin again that is not locked, for the least cost together"
          disabled={view.analysis.pins.length === 0}
          onClick={() => edit("choose all pins again", { op: "assign" })}
        >
          Choose pins
        </Button>
      </div>
      <div
        className="grid min-h-0 grow auto-rows-min gap-x-2 gap-y-4 overflow-auto px-2 py-2"
        style={{
          gridTemplateColumns:
            board.headers.length > 2
              ? "minmax(0, 1fr) minmax(0, 1fr)"
              : weights.map((w) => `minmax(9rem, ${w}fr)`).join(" "),
        }}
      >
        {board.headers.map((header) => (
          <ul key={header.name} aria-label={`${header.name} header`}>
            {header.places.map((place, i) => (
              <Place
                // biome-ignore lint/suspicious/noArrayIndexKey: several places have the same name and none moves
                key={i}
                place={place}
                board={board}
                {...selection}
                price={price}
                drag={drag}
                drop={drop}
              />
            ))}
          </ul>
        ))}
      </div>
    </section>
  );
}

interface Dragged {
  part: Part;
  signal: NonNullable<Part["signals"]>[number];
}

interface Price {
  words: string;
  possible: boolean;
}

interface PlaceProps extends Selection {
  place: string;
  board: Profile;
  price: (pin: string) => Price | undefined;
  drag: (what: Dragged | undefined) => void;
  drop: (pin: string) => void;
}

function Place({ place, board, selected, onSelect, price, drag, drop }: PlaceProps) {
  const { view } = useSheet();
  const pin = board.pins.find((p) => p.name === place);
  const report = view.analysis.pins.find((r) => r.pin === place);
  const rail = board.rails.some((r) => r.name === place) || place === board.ground;
  if (!pin) {
    const other = board.places?.find((p) => p.name === place);
    const net = other && view.document.nets.find((n) => n.includes(`board.${place}`));
    const wired = view.document.parts.filter((p) => net?.some((t) => t.startsWith(`${p.id}.`)));
    const says = rail ? (place === board.ground ? "ground" : "supply") : (other?.is ?? "");
    return (
      <li
        className={`flex h-7.5 items-center border-rule border-b font-mono text-small ${rail || wired.length > 0 ? "" : "text-faint"}`}
      >
        <span className="w-16 shrink-0">{place}</span>
        <span title={says} className={`truncate font-sans ${wired.length > 0 ? "" : "text-faint"}`}>
          {wired.length > 0 ? wired.map((p) => p.name).join(" + ") : says}
        </span>
      </li>
    );
  }
  const users = view.document.parts.filter((p) => report?.parts.includes(p.id));
  const marked = users.some((p) => p.id === selected);
  const first = users[0];
  const signal = first?.signals?.find((s) => s.pin === place);
  const cost = price(place);
  return (
    // What dragging does can be done on the part's card, by keyboard: "Pin".
    <li
      draggable={signal !== undefined}
      onDragStart={(event) => {
        event.dataTransfer.setData("text/plain", place);
        if (first && signal) drag({ part: first, signal });
      }}
      onDragEnd={() => drag(undefined)}
      onDragOver={(event) => cost?.possible && event.preventDefault()}
      onDrop={() => drop(place)}
      // Where there is little room a name stands below its pin, whole.
      className={`flex h-7.5 @max-lg:h-auto @max-lg:min-h-7.5 @max-lg:flex-wrap items-center gap-1.5 @max-lg:gap-y-0 border-rule border-b ${marked ? "bg-wash shadow-[inset_3px_0_0_var(--copper)]" : ""}`}
    >
      <span className={`w-10 shrink-0 pl-1 font-mono ${report ? "font-semibold" : ""}`}>{place}</span>
      {!report && (
        <span className="truncate text-faint text-small">
          {pin.own ? pin.own.for : pin.functions.includes("pwm-out") && !allPwm(board) ? "PWM" : ""}
        </span>
      )}
      {users.length > 0 && (
        <button
          type="button"
          title={users.map((p) => p.name + onPin(p, place)).join(" + ")}
          onClick={() => onSelect(users[0]?.id)}
          className="@max-lg:order-last min-h-6! min-w-0 shrink grow @max-lg:basis-full @max-lg:pl-1 flex rounded-sheet text-left text-small hover:bg-wash"
        >
          <span className="truncate">{users.map((p) => p.name).join(" + ")}</span>
          {first && <span className="shrink-0 whitespace-pre">{onPin(first, place)}</span>}
        </button>
      )}
      {cost ? (
        <span className={`ml-auto shrink-0 text-small ${cost.possible ? "text-copper" : "text-faint"}`}>
          {cost.words}
        </span>
      ) : (
        report && <Carries report={report} />
      )}
    </li>
  );
}

/** Which signal of a part is on a pin, of one with several: " · clock"; of segments their number. */
function onPin(part: Part, pin: string): string {
  const signals = part.signals ?? [];
  if (signals.length < 2) return "";
  return signals
    .filter((s) => s.pin === pin)
    .map((s) => ` · ${s.name.replace("segment-", "")}`)
    .join("");
}

const allPwm = (board: Profile) => board.pins.every((p) => p.functions.includes("pwm-out"));

function Carries({ report }: { report: PinReport }) {
  return (
    <span className="ml-auto flex shrink-0 items-center gap-0.5">
      {/* A note is on the part's card; here is little room. */}
      {report.level !== "note" && <LevelMark level={report.level} size={15} />}
      {report.amps && (
        <WorkingButton
          quantity={report.amps}
          label={`${report.pin} ${report.way}`}
          shown={Math.abs(report.amps.typ) < 1e-6 ? "no load" : report.amps.typText}
          className="flex min-h-6! items-center gap-1.5 text-small"
        >
          <Bar share={report.share} level={report.amps.level} cells={4} />
        </WorkingButton>
      )}
      {report.inputs?.slice(0, 3).map((reading) => (
        <WorkingButton
          key={reading.state}
          quantity={{ ...reading.volts, state: reading.state }}
          label={`${report.pin} reads`}
          shown={reading.count ?? (reading.reads === "low or high" ? "?" : (reading.reads ?? ""))}
          className="min-h-6! text-small"
        />
      ))}
    </span>
  );
}

import type { PinReport, Profile } from "../api/client";
import { useSheet } from "../session/context";
import { Bar } from "../shared/bar";
import { Button } from "../shared/controls";
import { LevelMark } from "../shared/level";
import { WorkingButton } from "../shared/working";
import type { Selection } from "./parts-panel";

/** The board's places in their physical order, each with what it carries. */
export function Ledger(selection: Selection) {
  const { board, view, edit } = useSheet();
  // A header with nothing on it can be narrow; one with readings needs most room.
  const weights = board.headers.map((header) => {
    const used = view.analysis.pins.filter((pin) => header.places.includes(pin.pin));
    return Math.max(1, ...used.map((pin) => (pin.inputs?.[0]?.count ? 2.6 : 2.2)));
  });
  return (
    <section aria-labelledby="ledger-heading" className="flex min-h-0 flex-col border-rule lg:border-r">
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
              // biome-ignore lint/suspicious/noArrayIndexKey: several places have the same name and none moves
              <Place key={i} place={place} board={board} {...selection} />
            ))}
          </ul>
        ))}
      </div>
    </section>
  );
}

function Place({ place, board, selected, onSelect }: { place: string; board: Profile } & Selection) {
  const { view } = useSheet();
  const pin = board.pins.find((p) => p.name === place);
  const report = view.analysis.pins.find((r) => r.pin === place);
  const rail = board.rails.some((r) => r.name === place) || place === board.ground;
  if (!pin) {
    return (
      <li
        className={`flex h-7.5 items-center border-rule border-b font-mono text-small ${rail ? "" : "text-faint"}`}
      >
        <span className="w-16">{place}</span>
        {rail && <span className="font-sans text-faint">{place === board.ground ? "ground" : "supply"}</span>}
      </li>
    );
  }
  const users = view.document.parts.filter((p) => report?.parts.includes(p.id));
  const marked = users.some((p) => p.id === selected);
  return (
    <li
      className={`flex h-7.5 items-center gap-1.5 border-rule border-b ${marked ? "bg-wash shadow-[inset_3px_0_0_var(--copper)]" : ""}`}
    >
      <span className={`w-11 shrink-0 pl-1 font-mono ${report ? "font-semibold" : ""}`}>{place}</span>
      {!report && (
        <span className="truncate text-faint text-small">
          {pin.own ? pin.own.for : pin.functions.includes("pwm-out") && !allPwm(board) ? "PWM" : ""}
        </span>
      )}
      {users.length > 0 && (
        <button
          type="button"
          onClick={() => onSelect(users[0]?.id)}
          className="min-h-6! min-w-0 shrink grow truncate rounded-sheet text-left text-small hover:bg-wash"
        >
          {users.map((p) => p.name).join(" + ")}
        </button>
      )}
      {report && <Carries report={report} />}
    </li>
  );
}

const allPwm = (board: Profile) => board.pins.every((p) => p.functions.includes("pwm-out"));

function Carries({ report }: { report: PinReport }) {
  return (
    <span className="ml-auto flex shrink-0 items-center gap-0.5">
      <LevelMark level={report.level} size={15} />
      {report.amps && (
        <WorkingButton
          quantity={report.amps}
          label={`${report.pin} ${report.way}`}
          shown={report.amps.typText}
          className="flex min-h-6! items-center gap-1.5 text-small"
        >
          <Bar share={report.share} level={report.amps.level} cells={5} />
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

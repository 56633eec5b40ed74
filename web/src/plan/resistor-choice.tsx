import { useQuery } from "@tanstack/react-query";
import { Popover } from "radix-ui";
import type { ReactNode } from "react";
import { answer, api, type Part } from "../api/client";
import { useSheet, useSnapshot } from "../session/context";
import { Bands } from "../shared/bands";
import { Button } from "../shared/controls";
import { ValueField } from "../shared/value-field";
import { shortValue } from "../shared/values";
import { WorkingButton } from "../shared/working";

/** The resistor that a hookup brought: its value, its bands, its heat, and the other values side by side. */
export function ResistorChoice({ part }: { part: Part }) {
  const { edit, library, report: reportOf } = useSheet();
  const { refused } = useSnapshot();
  const report = reportOf(part);
  const error = refused.find((r) =>
    r.step?.edits.some((e) => e.op === "value" && e.part === part.id && e.value === "resistance"),
  )?.problem.title;
  const set = (text: string) =>
    edit(`set ${part.name} to ${text}`, { op: "value", part: part.id, value: "resistance", text });
  return (
    <div className="border-rule border-l-2 pl-3">
      <div className="flex items-end gap-2">
        <div className="grow">
          <ValueField
            label={part.name}
            saved={shortValue(part, library, "resistance")}
            error={error}
            onCommit={(text) =>
              text ? set(text) : edit(`choose ${part.name}`, { op: "size", part: part.id })
            }
          />
        </div>
        {((part.role?.startsWith("resistor") && !part.role.includes("-in-")) || part.role === "sense") && (
          <SideBySide part={part} onTake={set} />
        )}
      </div>
      {report?.bands && (
        <div className="mt-1">
          <Bands bands={report.bands} />
        </div>
      )}
      <p className="mt-0.5 text-small">
        {report?.quantities.map((q) => (
          <span key={q.name}>
            {q.name} <WorkingButton quantity={q} label={`${q.name} in ${part.name}`} shown={q.typText} />
          </span>
        ))}
        {part.chosen && (
          <span className="text-faint"> · chosen for you; it follows when something changes</span>
        )}
      </p>
    </div>
  );
}

/** A patch as bright as the lamp looks, beside one that is as bright as it gets. */
function Glow({ lightness }: { lightness: number }) {
  return (
    <svg viewBox="0 0 28 14" className="h-3.5 w-7" aria-hidden="true">
      <rect width="28" height="14" fill="#1d2733" />
      <circle cx="14" cy="7" r="5" fill="#ffd76a" opacity={lightness / 100} />
    </svg>
  );
}

/** Takes a value of the comparison. */
function Take({ text, words, onTake }: { text: string; words: string; onTake: (text: string) => void }) {
  return (
    <td className="font-sans text-small">
      <Popover.Close asChild>
        <Button look="quiet" aria-label={`Take ${text}`} onClick={() => onTake(text)}>
          {words}
        </Button>
      </Popover.Close>
    </td>
  );
}

/** How bright the lamp should look: the wanted current and the best value follow. */
function WantedBrightness({ part, bright }: { part: Part; bright: number | undefined }) {
  const { view, edit, kind } = useSheet();
  const { refused } = useSnapshot();
  const lamp = view.document.parts.find((p) => p.id === part.of);
  if (!lamp || bright === undefined || !kind(lamp).values.some((v) => v.id === "targetCurrent")) return null;
  const error = refused.find((r) => r.step?.edits.some((e) => e.op === "bright" && e.part === lamp.id));
  return (
    <div className="mb-3 max-w-72">
      <ValueField
        label="How bright should it look? (1 % to 100 %)"
        saved={`${Math.round(bright)} %`}
        error={error?.problem.title}
        onCommit={(text) => edit(`make ${lamp.name} ${text} bright`, { op: "bright", part: lamp.id, text })}
      />
    </div>
  );
}

/** Values side by side, each with a button to take it. */
function Choices({ columns, children }: { columns: string[]; children: ReactNode }) {
  return (
    <table>
      <thead className="text-left text-faint text-small">
        <tr>
          {columns.map((name) => (
            <th key={name} className="pr-4 font-normal">
              {name}
            </th>
          ))}
          <th className="font-normal">
            <span className="sr-only">take it</span>
          </th>
        </tr>
      </thead>
      <tbody className="font-mono tabular-nums">{children}</tbody>
    </table>
  );
}

function SideBySide({ part, onTake }: { part: Part; onTake: (text: string) => void }) {
  const { view, edit } = useSheet();
  const choice = useQuery({
    queryKey: ["resistors", view.id, view.tag, part.id],
    queryFn: () =>
      answer(
        api.GET("/api/builds/{id}/resistors/{part}", { params: { path: { id: view.id, part: part.id } } }),
      ),
  });
  const takeTwo = ({ a, b, parallel }: { a: number; b: number; parallel: boolean }) =>
    edit(`make ${part.name} of two`, {
      op: "pair",
      part: part.id,
      text: String(a),
      with: String(b),
      value: parallel ? "parallel" : "series",
    });
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Button>Compare</Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          collisionPadding={12}
          sideOffset={6}
          aria-label={`Values for ${part.name}`}
          className="z-20 max-h-(--radix-popover-content-available-height) max-w-[94vw] overflow-auto rounded-sheet border border-ink/50 bg-sheet p-3 shadow-lg"
        >
          {part.role === "sense" ? (
            <Choices columns={["value", "the pin sees", "it reads", "of the scale"]}>
              {choice.data?.spans.map((c) => (
                <tr key={c.ohms} className={`border-rule border-t ${c.best ? "bg-wash" : ""}`}>
                  <td className="py-1 pr-4 font-semibold">{c.ohmsText}</td>
                  <td className="pr-4">{c.voltsText}</td>
                  <td className="pr-4">{c.counts}</td>
                  <td className="pr-4">{Math.round(c.part * 100)} %</td>
                  <Take
                    text={c.ohmsText}
                    words={c.best ? "widest" : c.drawer ? "in the drawer" : "take"}
                    onTake={onTake}
                  />
                </tr>
              ))}
            </Choices>
          ) : (
            <>
              <WantedBrightness part={part} bright={choice.data?.candidates.find((c) => c.best)?.lightness} />
              <Choices columns={["value", "current, low – typical – high", "brightness", "heat", "from"]}>
                {choice.data?.candidates.map((c) => (
                  <tr key={c.ohms} className={`border-rule border-t ${c.best ? "bg-wash" : ""}`}>
                    <td className="py-1 pr-4 font-semibold">{c.ohmsText}</td>
                    <td className="pr-4">{c.ampsText}</td>
                    <td className="pr-4 font-sans">
                      <span className="flex items-center gap-2">
                        <Glow lightness={c.lightness} />
                        {c.bright}
                      </span>
                    </td>
                    <td className="pr-4">{c.wattsText}</td>
                    <td className="pr-4 font-sans text-small">
                      {c.pairText
                        ? `${c.pairText}, from the drawer`
                        : c.drawer
                          ? "the drawer"
                          : c.usual
                            ? "rule of thumb"
                            : "E12"}
                    </td>
                    <Take
                      text={c.pairText ?? c.ohmsText}
                      words={c.best ? "best" : c.within ? (c.usual ? "usual" : "take") : "too much"}
                      onTake={() => (c.pair ? takeTwo(c.pair) : onTake(c.ohmsText))}
                    />
                  </tr>
                ))}
              </Choices>
            </>
          )}
          <Popover.Close asChild>
            <Button
              className="mt-3"
              onClick={() => edit(`choose ${part.name}`, { op: "size", part: part.id })}
            >
              Choose for me, and keep choosing
            </Button>
          </Popover.Close>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

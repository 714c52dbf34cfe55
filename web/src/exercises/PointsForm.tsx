import { Disclosure, DisclosureButton, DisclosurePanel } from "@headlessui/react";

import type { Exercise } from "../api/generated";
import { fromField, showMoment, toField } from "../model/moments";
import { show, showPoints } from "../model/numbers";

export type PointRules = Pick<Exercise, "over_cases" | "due" | "late_per_day" | "late_at_most" | "round_to">;

const FIELD = "rounded border border-rule bg-sheet px-1.5 py-1 text-[14px] text-ink";
const OVER = {
  mean: "the mean of all cases",
  least: "the worst case",
  each: "every case gives them anew",
};
const STEPS = [0, 0.1, 0.25, 0.5, 1];

/** How points come from the marks: over several cases, when a hand-in is late, and rounded. */
export function PointsForm({ rules, onChange }: { rules: PointRules; onChange: (part: Partial<PointRules>) => void }) {
  return (
    <Disclosure as="section" aria-label="Points">
      <DisclosureButton className="group flex w-full items-baseline gap-2 text-left">
        <span className="font-bold">Points</span>
        <span className="flex-1 text-[13px] text-soft">{summary(rules)}</span>
        <span className="text-[13px] text-leaf underline underline-offset-2">
          <span className="group-data-open:hidden">change</span>
          <span className="hidden group-data-open:inline">close</span>
        </span>
      </DisclosureButton>
      <DisclosurePanel className="mt-1.5 space-y-2 rounded border border-rule bg-sheet px-3 py-2.5 text-[14px]">
        <label className="block">
          A check&apos;s points come from
          <select className={`${FIELD} mt-0.5 w-full`} value={rules.over_cases} onChange={(event) => onChange({ over_cases: event.target.value as PointRules["over_cases"] })}>
            {Object.entries(OVER).map(([value, words]) => (
              <option key={value} value={value}>
                {words}
              </option>
            ))}
          </select>
        </label>
        <label className="block">
          Due
          <input
            type="datetime-local"
            className={`${FIELD} num mt-0.5 w-full`}
            value={toField(rules.due)}
            onChange={(event) => onChange({ due: fromField(event.target.value) })}
          />
        </label>
        {rules.due && (
          <>
            <Share label="Each day late costs" value={rules.late_per_day} onChange={(late_per_day) => onChange({ late_per_day })} />
            <Share label="all days at most" value={rules.late_at_most} onChange={(late_at_most) => onChange({ late_at_most })} />
            <p className="text-[13px] text-soft">Of the points reached; a day that has begun counts.</p>
          </>
        )}
        <label className="flex items-center gap-2">
          <span className="flex-1">Rounded to</span>
          <select className={FIELD} value={rules.round_to} onChange={(event) => onChange({ round_to: Number(event.target.value) })}>
            {[...new Set([...STEPS, rules.round_to])].map((step) => (
              <option key={step} value={step}>
                {step ? showPoints(step) : "not rounded"}
              </option>
            ))}
          </select>
        </label>
      </DisclosurePanel>
    </Disclosure>
  );
}

function Share({ label, value, onChange }: { label: string; value: number; onChange: (value: number) => void }) {
  return (
    <label className="flex items-center gap-2">
      <span className="flex-1">{label}</span>
      <input
        type="number"
        min={0}
        max={100}
        className={`${FIELD} num w-20 text-right`}
        value={Math.round(value * 1000) / 10}
        onChange={(event) => onChange(Math.min(100, Math.max(0, Number(event.target.value))) / 100)}
      />
      %
    </label>
  );
}

function summary(rules: PointRules): string {
  const late = rules.late_per_day > 0 ? `, −${show(rules.late_per_day * 100, "%")} a day late` : "";
  const due = rules.due ? `due ${showMoment(rules.due)}${late}` : "no due date";
  const rounded = rules.round_to ? `, to ${show(rules.round_to)}` : "";
  return `${OVER[rules.over_cases]}; ${due}${rounded}`;
}

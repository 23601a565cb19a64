import { keepPreviousData, useQuery } from "@tanstack/react-query"
import { useState } from "react"
import { api, asked, type Schema } from "../api/client"
import { useKeys } from "../app/keys"
import { clock, type Habit, leak, span } from "../parts/units"
import type { JudgeState } from "./queries"

/** What a person asks: the limit as so many times the record's, minutes ignored, the thermometer left out, a hold laid over. */
export type Asked = { limit: number; ignore: number; thermometer: boolean; over: string | null }
export type Found = Schema["WhatIfOut"]

const LIMITS = { least: -1.2, most: 1.2, step: 0.1 }

export function asRecorded(judge: JudgeState): Asked {
  return { limit: 0, ignore: judge.asked?.ignore ?? 0, thermometer: true, over: null }
}

/** What the record's verdict would be if it had been accepted or read otherwise; the record stays as it is. */
export function useWhatIf(judge: JudgeState) {
  const [wanted, setWanted] = useState<Asked>(() => asRecorded(judge))
  const own = asRecorded(judge)
  const differs = wanted.limit !== 0 || wanted.ignore !== own.ignore || !wanted.thermometer
  const body = {
    ignore: wanted.ignore,
    put_back: judge.asked?.put_back ?? [],
    thermometer: wanted.thermometer,
    acceptance: wanted.limit === 0 ? null : { max_leak: `${limitOf(judge, wanted.limit) * 3.6e9} mL/h` },
  }
  const { data, error } = useQuery({
    queryKey: ["what-if", judge.id, body],
    queryFn: () => asked(api.POST("/api/trials/{trial_id}/judge/what-if", { params: { path: { trial_id: judge.id } }, body })),
    enabled: differs,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  })
  return { wanted, setWanted, differs, found: differs ? (data ?? null) : null, error: differs ? error : null, back: () => setWanted(own) }
}

/** The limit asked about, m³/s: so many powers of ten away from the record's, rounded to what a person would say. */
function limitOf(judge: JudgeState, away: number): number {
  const limit = judge.verdict!.limit
  return away === 0 ? limit : Number((limit * 10 ** away).toPrecision(2))
}

type WhatIfProps = ReturnType<typeof useWhatIf> & { judge: JudgeState; habit: Habit }

/** The sliders: they answer at once, and never touch the record. */
export function WhatIf({ judge, habit, wanted, setWanted, differs, back }: WhatIfProps) {
  const verdict = judge.verdict!
  const warm = judge.points.some((point) => point.temperature != null)
  const most = Math.floor(verdict.hold / 60 / 2) * 60
  useKeys([
    { key: "t", does: "what if: the thermometer", act: () => setWanted((w) => ({ ...w, thermometer: !w.thermometer })), disabled: !warm },
    { key: "o", does: "lay an earlier hold over this one", act: () => setWanted((w) => ({ ...w, over: next(judge, w.over) })), disabled: !judge.others.length },
    { key: "Backspace", does: "back to the record", act: back, disabled: !differs },
  ])
  return (
    <fieldset className="grid items-end gap-x-4 gap-y-2 border-line border-rule px-3 pt-1 pb-2 sm:grid-cols-2 md:grid-cols-[1fr_1fr_auto_auto]">
      <legend className="px-1 text-small text-quiet">What if? The record stays as it is.</legend>
      <label className="block min-w-0 text-small">
        <span className="flex justify-between gap-2">
          <span className="whitespace-nowrap">the limit were</span>
          <span className="figure whitespace-nowrap">{leak(limitOf(judge, wanted.limit), habit, true, judge.verdict?.by_day)}</span>
        </span>
        <input
          type="range"
          className="range range-xs range-primary w-full"
          aria-label="What if the limit were"
          aria-valuetext={leak(limitOf(judge, wanted.limit), habit, true, judge.verdict?.by_day)}
          min={LIMITS.least}
          max={LIMITS.most}
          step={LIMITS.step}
          value={wanted.limit}
          onChange={(event) => setWanted({ ...wanted, limit: Math.abs(Number(event.target.value)) < 0.05 ? 0 : Number(event.target.value) })}
        />
      </label>
      <label className="block min-w-0 text-small">
        <span className="flex justify-between gap-2">
          <span>ignore the first</span>
          <span className="figure whitespace-nowrap">{clock(wanted.ignore)}</span>
        </span>
        <input
          type="range"
          className="range range-xs range-primary w-full"
          aria-label="What if so much were left out at the beginning"
          aria-valuetext={span(wanted.ignore)}
          min={0}
          max={most}
          step={60}
          value={wanted.ignore}
          onChange={(event) => setWanted({ ...wanted, ignore: Number(event.target.value) })}
        />
      </label>
      <label className={`flex min-h-11 items-center gap-2 text-small ${warm ? "" : "opacity-60"}`}>
        <input
          type="checkbox"
          className="toggle toggle-sm"
          checked={warm && wanted.thermometer}
          disabled={!warm}
          onChange={(event) => setWanted({ ...wanted, thermometer: event.target.checked })}
        />
        {warm ? "thermometer" : "no thermometer"}
      </label>
      {judge.others.length > 0 && (
        <label className="block text-small">
          <span className="block">lay over</span>
          <select
            className="select h-8 w-28 bg-paper pr-7 pl-2 text-note"
            value={wanted.over ?? ""}
            onChange={(event) => setWanted({ ...wanted, over: event.target.value || null })}
          >
            <option value="">nothing</option>
            {judge.others.map((other) => (
              <option key={other.id} value={other.id}>
                trial {other.number}
                {other.baseline ? ", the baseline" : ""}
              </option>
            ))}
          </select>
        </label>
      )}
    </fieldset>
  )
}

function next(judge: JudgeState, over: string | null): string | null {
  const at = judge.others.findIndex((other) => other.id === over)
  return judge.others[at + 1]?.id ?? null
}

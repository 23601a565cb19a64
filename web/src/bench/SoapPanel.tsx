import { useEffect, useRef, useState } from "react"
import { useKeys } from "../app/keys"
import { Alert } from "../parts/Alert"
import { Ask } from "../parts/Dialog"
import type { Px } from "../parts/elevation/Elevation"
import { Seen } from "../parts/elevation/Seen"
import { show, type Habit } from "../parts/units"
import { useSize } from "../parts/useSize"
import { unpinned } from "./LeakDialog"
import type { BenchState, Hands } from "./queries"

type Section = BenchState["sections"][number]
type Mark = BenchState["observed"][number]

/** How a section shows, from tight to worst; the first two are no leak. */
const GRADES = ["dry", "still foam", "growing foam", "bubbles", "weep", "drip", "stream"]
const OWNERS = { rig: "test rig", fitting: "fitting", boundary: "vessel" }

/** Soap or water over every seam and fitting: the sections walked one by one, each marked by key or tap. */
export function SoapPanel({ bench, hands, habit }: { bench: BenchState; hands: Hands; habit: Habit }) {
  const marks = new Map(bench.observed.filter((one) => one.what === "soap").map((one) => [one.place, one]))
  const [at, setAt] = useState<string | null>(null)
  const [refused, setRefused] = useState<Record<string, string>>({})
  const [instead, setInstead] = useState<{ section: Section; word: string; seen: Mark } | null>(null)
  const [ref, { width, height }] = useSize()
  const { sections } = bench
  const wanted = (one: Section) => !marks.has(one.id) || marks.get(one.id)!.leaks
  const here = sections.find((one) => one.id === at) ?? sections.find(wanted) ?? sections[0]!
  const may = bench.allowed.includes("observed")
  const step = (by: number) => setAt(sections[(sections.indexOf(here) + by + sections.length) % sections.length]!.id)
  const keep = (section: Section, word: string, why?: string) =>
    hands.step("observed", { what: "soap", place: section.id, word, ...(why && { why }) }, `soap, ${section.name}: ${word}`)
  // A mark moves on at once: the next key is the next section's, however slow the line is.
  // One that was not taken says so for its section, until that is marked again: the hand is not led back under its next key.
  // What would take back a leak asks why first: a key that slipped never makes a wet seam dry.
  const mark = (word: string) => {
    const seen = marks.get(here.id)
    if (seen?.unmended && GRADES.indexOf(word) < 2) return setInstead({ section: here, word, seen })
    setRefused((all) => Object.fromEntries(Object.entries(all).filter(([id]) => id !== here.id)))
    const next = sections.slice(sections.indexOf(here) + 1).find(wanted)
    setAt((next ?? here).id)
    keep(here, word).catch((problem: Error) => setRefused((others) => ({ ...others, [here.id]: problem.message })))
  }
  useKeys([
    { key: "ArrowDown", does: "next section", act: () => step(1) },
    { key: "ArrowUp", does: "section before", act: () => step(-1) },
    ...GRADES.map((word, n) => ({ key: String(n + 1), does: `mark it: ${word}`, act: () => mark(word), disabled: !may })),
  ])
  const list = useRef<HTMLUListElement>(null)
  useEffect(() => {
    void list.current?.querySelector('[aria-current="true"]')?.scrollIntoView({ block: "nearest" })
  }, [here.id, bench.observed])
  const leaky = unpinned(bench)
  const placed = sections.filter((one) => one.x != null)
  return (
    <div className="grid min-h-0 flex-1 gap-x-5 px-4 pt-2 pb-2 md:grid-cols-[1fr_1.1fr] lg:overflow-hidden" data-digits data-testid="soap">
      {instead && (
        <Ask
          title={`${instead.section.name}: no leak any more?`}
          label="Why is it no leak? It stays on the record."
          keep={`It is ${instead.word}`}
          close={() => setInstead(null)}
          done={(why) => keep(instead.section, instead.word, why)}
        >
          <p className="mb-4 text-lead first-letter:uppercase">
            {instead.seen.word} {instead.seen.word.endsWith("s") ? "were" : "was"} seen there
            {instead.seen.pressure != null && <> at {show(instead.seen.pressure, "pressure", habit, 3)}</>}, and nothing was mended since.
          </p>
        </Ask>
      )}
      <div ref={ref} className="order-last flex min-h-52 items-center justify-center overflow-hidden md:order-first">
        {width > 0 && placed.length > 0 && (
          <Seen
            shape={bench.shape}
            view="front"
            fit={[Math.max(120, width - 90), Math.max(120, Math.min(height, 400) - 110)]}
            order={bench.answer.openings.map((one) => one.name)}
            leaks={[]}
            over={(px) =>
              placed.map((one) => (
                <Spot key={one.id} px={px} section={one} letter={letterOf(sections.indexOf(one))} mark={marks.get(one.id)} here={one === here} choose={setAt} />
              ))
            }
          />
        )}
      </div>
      <div className="flex min-h-0 flex-col">
        <p className="text-lead">
          <span className="figure">{sections.filter((one) => marks.has(one.id)).length}</span> of {sections.length} sections marked.{" "}
          <strong data-testid="section">{here.name}</strong>
        </p>
        <div role="group" aria-label="How it shows" className="my-2 grid grid-cols-4 gap-1.5">
          {GRADES.map((word, n) => (
            <button
              key={word}
              className={`btn h-auto min-h-11 gap-1.5 border-line px-1 py-0.5 text-note leading-tight ${n < 2 ? "border-moss" : "border-vermilion"}`}
              disabled={!may}
              onClick={() => mark(word)}
            >
              {word} <kbd className="key hidden sm:inline-grid">{n + 1}</kbd>
            </button>
          ))}
        </div>
        {sections
          .filter((one) => one.id in refused)
          .map((one) => (
            <Alert key={one.id}>
              {one.name} is not marked: {refused[one.id]}
            </Alert>
          ))}
        {!may && <p className="text-note text-quiet">Soap shows nothing without pressure: it is marked while it is pressed.</p>}
        {leaky && (
          <p className="strip mb-1 text-note">
            {leaky.where}: {leaky.owner === "boundary" ? "a leak of the vessel itself." : `a leak of the ${OWNERS[leaky.owner]}.`} Pin it (L), let it go, mend
            it, and mark it again.
          </p>
        )}
        <ul ref={list} className="min-h-0 lg:overflow-auto" aria-label="Sections">
          {sections.map((one, n) => (
            <li key={one.id}>
              <button
                className={`grid min-h-9 w-full grid-cols-[26px_1fr_auto] items-center gap-x-2 border-b border-rule px-1 text-left text-note leading-tight ${one === here ? "bg-paper font-semibold" : ""}`}
                aria-current={one === here}
                onClick={() => setAt(one.id)}
              >
                <span className="font-bold text-quiet">{letterOf(n)}</span>
                <span>
                  {one.name} <span className="text-small font-normal text-quiet">{OWNERS[one.owner]}</span>
                </span>
                <Told mark={marks.get(one.id)} habit={habit} />
              </button>
            </li>
          ))}
        </ul>
      </div>
    </div>
  )
}

/** A, B, C: sections are lettered, for openings are numbered. */
const letterOf = (n: number): string => (n < 26 ? String.fromCharCode(65 + n) : letterOf(Math.floor(n / 26) - 1) + letterOf(n % 26))

function Told({ mark, habit }: { mark: Mark | undefined; habit: Habit }) {
  if (!mark) return <span className="text-quiet">–</span>
  return (
    <span className={mark.leaks ? "font-semibold text-vermilion" : "text-moss"}>
      {mark.word}
      {mark.pressure != null && <span className="font-normal text-quiet"> {show(mark.pressure, "pressure", habit, 3)}</span>}
    </span>
  )
}

type SpotProps = { px: Px; section: Section; letter: string; mark: Mark | undefined; here: boolean; choose: (id: string) => void }

/** A section on the drawing: its letter, and its grade by shape as well as by colour. */
function Spot({ px, section, letter, mark, here, choose }: SpotProps) {
  const [x, y] = [px.x(section.x!, section.v!), px.y(section.x!, section.v!)]
  const tone = !mark ? "var(--color-ink)" : mark.leaks ? "var(--color-vermilion)" : "var(--color-moss)"
  const shape = { fill: mark ? tone : "var(--color-paper)", stroke: tone, strokeWidth: here ? 3 : 1.6, ...(mark ? {} : { strokeDasharray: "3 2.5" }) }
  return (
    <g className="cursor-pointer" onPointerDown={() => choose(section.id)}>
      {here && <circle cx={x} cy={y} r="17" fill="none" stroke="var(--color-brass)" strokeWidth="3" />}
      {mark?.leaks ? <rect x={x - 11} y={y - 11} width="22" height="22" {...shape} /> : <circle cx={x} cy={y} r="11.5" {...shape} />}
      <text x={x} y={y + 4.5} textAnchor="middle" fontSize="12.5" fontWeight="700" fill={mark ? "var(--color-paper)" : "var(--color-ink)"}>
        {letter}
      </text>
    </g>
  )
}

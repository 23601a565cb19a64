import { useEffect, useRef, useState } from "react"
import { Link } from "react-router"
import type { Refusal } from "../api/client"
import { useMe } from "../api/me"
import { useKeys } from "../app/keys"
import { Loading } from "../app/Loading"
import { Head } from "../app/Shell"
import { Failed } from "../app/states"
import { useTheme } from "../app/theme"
import { Alert } from "../parts/Alert"
import { Altitude } from "../parts/Altitude"
import { leadToFault } from "../parts/fault"
import { Pick, Text } from "../parts/Fields"
import { GaugeDial, number } from "../parts/GaugeDial"
import { textAt, withAt } from "../parts/path"
import { QuantityField, type QuantityKind } from "../parts/QuantityField"
import { day, ordinal, type Units } from "../parts/units"
import { Burst } from "../parts/Burst"
import { useHang, useKeepKit, useKit, useProved, useTried, type KitOut } from "./queries"

type Particular = readonly [path: string, label: string, kind: QuantityKind | "text" | "number" | "date", hint?: string]

/** The kinds of kit, and what is told of each. */
export const KINDS: Record<string, { name: string; plural: string; told: readonly Particular[]; by_trial?: boolean }> = {
  gauge: {
    name: "Gauge",
    plural: "Gauges",
    told: [
      ["range", "Reads to", "pressure"],
      ["division", "Smallest division", "pressure"],
      ["resolution", "Read to", "pressure", "half a division"],
      ["class", "Class, % of full scale", "number"],
      ["calibrated", "Calibrated on", "date"],
    ],
  },
  pump: {
    name: "Pump or other source",
    plural: "Sources of pressure",
    told: [
      ["stroke", "A stroke gives", "volume"],
      ["maximum", "Makes at most", "pressure"],
    ],
  },
  thermometer: {
    name: "Thermometer",
    plural: "Thermometers",
    told: [
      ["resolution", "Smallest step", "temperature_difference"],
      ["accuracy", "May be out by", "temperature_difference", "empty: 1 °C"],
    ],
  },
  "relief-valve": {
    name: "Relief valve",
    plural: "Relief valves",
    told: [
      ["set_pressure", "Lifts at", "pressure"],
      ["tolerance", "Its maker lets it be off by", "pressure", "empty: by the code"],
      ["tolerance_paper", "The paper that says so", "text", "over a tenth of its set"],
      ["set_by", "Set by which gauge", "text", "its name, or who set it"],
      ["set_for", "Set on", "text", "gas or liquid"],
      ["maker", "Maker", "text"],
      ["bore", "Bore", "length"],
      ["number", "Number on it", "text"],
      ["proven", "Seen to lift on", "date"],
    ],
  },
  hose: {
    name: "Hose",
    plural: "Hoses",
    told: [
      ["rating", "Rated", "pressure"],
      ["thread", "Thread", "text"],
    ],
  },
  plug: {
    name: "Plug, blank or valve",
    plural: "Plugs, blanks, valves",
    told: [
      ["rating", "Rated", "pressure"],
      ["thread", "Thread", "text"],
    ],
  },
  baseline: {
    name: "Baseline",
    plural: "Baselines: what a rig known tight does by itself",
    by_trial: true,
    told: [
      ["rig", "Rig", "text"],
      ["place", "Place", "text"],
      ["known_tight", "Known tight by", "text"],
    ],
  },
  design: {
    name: "Design",
    plural: "Designs",
    told: [
      ["wanted", "Wanted pressure", "pressure"],
      ["asked", "Times that it has to bear", "number", "empty: 2"],
      ["inside_diameter", "Inside diameter", "length"],
      ["wall", "Wall", "length"],
      ["material", "Material", "text", "as carbon-fibre, aluminium-6061"],
      ["layup", "Lay-up", "text", "of fibre: layers and angles"],
      ["closure", "Closure", "text", "how its ends are kept in"],
      ["end_wall", "Wall of its ends", "length", "empty: as its wall"],
    ],
  },
  wrench: { name: "Torque wrench", plural: "Torque wrenches", told: [["range", "Ends at", "torque"]] },
}

/** The kit board: gauges as dials, pumps, thermometers, valves, plugs. */
export function Kit() {
  useTheme("daylight")
  const [kit, me] = [useKit(), useMe()]
  const [open, setOpen] = useState<KitOut | "new" | null>(null)
  const [down, setDown] = useState<KitOut | null>(null)
  const hang = useHang()
  useKeys([{ key: "n", does: "hang up a piece of kit", act: () => setOpen("new") }])
  const habit: Units = me.data?.units ?? "metric"
  const action = (
    <button className="btn btn-outline h-9 border-line border-ink bg-paper" onClick={() => setOpen("new")}>
      Hang up kit <kbd className="key hidden sm:inline-grid">N</kbd>
    </button>
  )
  if (kit.error) return <Failed error={kit.error} retry={() => void kit.refetch()} />
  return (
    <>
      <Head action={action} />
      {!kit.data ? (
        <Loading what="the kit board" />
      ) : (
        <main className="grid flex-1 content-start overflow-auto lg:grid-cols-[1fr_380px] lg:content-stretch lg:overflow-hidden">
          <div className="px-4 py-4 sm:px-8 lg:overflow-auto">
            <h1 className="mb-1 text-2xl">Kit board</h1>
            {down && (
              <p className="mb-2 flex items-center gap-3 border-l-4 border-water bg-paper px-3 py-1.5" role="status">
                {down.name} is taken down. Plans that used it keep it.
                <button className="btn btn-sm ml-auto" onClick={() => hang.mutate({ id: down.id, down: false }, { onSuccess: () => setDown(null) })}>
                  Hang it up again
                </button>
              </p>
            )}
            {kit.data.length === 0 && <Nothing open={() => setOpen("new")} />}
            {Object.entries(KINDS).map(([kind, { plural }]) => {
              const all = kit.data.filter((one) => one.kind === kind)
              return all.length === 0 ? null : (
                <section key={kind} className="mb-3">
                  <h2 className="border-b-line border-ink pb-1 text-lead">{plural}</h2>
                  <ul className={kind === "gauge" ? "grid grid-cols-[repeat(auto-fill,minmax(190px,1fr))] gap-x-4" : "grid gap-x-8 md:grid-cols-2"}>
                    {all.map((one) => (
                      <li key={one.id}>
                        {kind === "gauge" ? (
                          <GaugeCard kit={one} open={() => setOpen(one)} chosen={open === one} />
                        ) : (
                          <Row kit={one} open={() => setOpen(one)} chosen={open === one} />
                        )}
                      </li>
                    ))}
                  </ul>
                </section>
              )
            })}
          </div>
          <aside className="border-t-line border-rule bg-paper px-5 py-4 lg:overflow-auto lg:border-t-0 lg:border-l-line">
            {open ? (
              <Form
                key={open === "new" ? "new" : open.id}
                kit={open === "new" ? null : open}
                habit={habit}
                close={() => setOpen(null)}
                takeDown={(one) => hang.mutate({ id: one.id, down: true }, { onSuccess: () => (setDown(one), setOpen(null)) })}
              />
            ) : (
              <div className="text-quiet">
                <h2 className="mb-2 text-lg text-ink">What the board is for</h2>
                <p className="mb-2">
                  A plan looks here for the gauge that suits it: one that ends at about twice the test pressure, never under one and a half times or over four.
                </p>
                <p className="mb-2">A gauge counts as calibrated for twelve months. After that it may still be used, compared with a second one on the day.</p>
                <p className="mb-5">Open a piece to change it or to take it down.</p>
                <h2 className="mb-2 text-lg text-ink">This workshop</h2>
                <p className="mb-2">Water boils, and gas weighs, by the air outside. How high it stands is asked once.</p>
                <Altitude habit={habit} />
              </div>
            )}
          </aside>
        </main>
      )}
    </>
  )
}

function Nothing({ open }: { open: () => void }) {
  return (
    <div className="max-w-lg py-6">
      <p className="mb-3 text-lg">
        Nothing hangs here yet. Begin with the gauge you read the test from: plans will say whether it suits, and mark the test on its dial.
      </p>
      <button className="btn btn-primary" onClick={open}>
        Hang up a gauge <kbd className="key">N</kbd>
      </button>
    </div>
  )
}

function GaugeCard({ kit, open, chosen }: { kit: KitOut; open: () => void; chosen: boolean }) {
  return (
    <button
      className={`flex w-full flex-col items-center px-2 py-2 text-center hover:bg-paper ${chosen ? "bg-paper outline-2 outline-water" : ""}`}
      onClick={open}
    >
      <GaugeDial sheet={kit.sheet} size={132} />
      <span className="mt-1 font-semibold">{kit.name}</span>
      <span className="text-small text-quiet">
        {textAt(kit.sheet, "range")} by {textAt(kit.sheet, "division") || "unknown"}
        {textAt(kit.sheet, "class") && `, class ${textAt(kit.sheet, "class")}`}
      </span>
      <span className={`text-small ${kit.out_of_date || kit.problem ? "text-vermilion" : "text-moss"}`}>
        {kit.problem
          ? `cannot be read: ${kit.problem}`
          : kit.calibrated_until
            ? kit.out_of_date
              ? `calibration ran out ${day(kit.calibrated_until)}`
              : `calibrated until ${day(kit.calibrated_until)}`
            : "not calibrated"}
      </span>
    </button>
  )
}

function Row({ kit, open, chosen }: { kit: KitOut; open: () => void; chosen: boolean }) {
  const told = KINDS[kit.kind]?.told ?? []
  return (
    <button
      className={`flex min-h-11 w-full items-baseline gap-3 border-b border-rule py-2 text-left hover:bg-paper ${chosen ? "bg-paper" : ""}`}
      onClick={open}
    >
      <span className="font-semibold">{kit.name}</span>
      {kit.problem && <span className="text-small text-vermilion">cannot be read: {kit.problem}</span>}
      <span className="ml-auto text-right text-small text-quiet">
        {told
          .flatMap(([path, label]) => (textAt(kit.sheet, path) ? [`${label.toLowerCase()} ${textAt(kit.sheet, path).replace("delta_degC", "°C")}`] : []))
          .join(", ")}
      </span>
    </button>
  )
}

const UNITS: Record<string, Record<Units, string>> = {
  pressure: { metric: "bar", imperial: "psi" },
  volume: { metric: "mL", imperial: "mL" },
  length: { metric: "mm", imperial: "in" },
  temperature_difference: { metric: "°C", imperial: "°C" },
  torque: { metric: "N m", imperial: "ft lbf" },
}

/** The trials that a relief valve was lifted in. */
function Tried({ kit }: { kit: KitOut }) {
  const { data: tried } = useTried(kit.id)
  if (!tried) return null
  return (
    <section className="mb-3" aria-label="Where it was tried">
      <h3 className="text-lead">Where it was tried</h3>
      {tried.length === 0 && (
        <p className="text-small text-quiet">In no trial yet. Choose it on the plan board of a relief valve's trial, or of a first steam.</p>
      )}
      <ul>
        {tried.map((one) => (
          <li key={one.trial} className="border-b border-rule py-1.5 text-note leading-snug">
            <Link className="text-water-ink dotted" to={`/trials/${one.trial}/judge`}>
              {one.vessel}, {ordinal(one.number)} trial
            </Link>{" "}
            <span className="text-quiet">
              {day(one.on)}
              {one.practice ? ", practice" : ""}
            </span>
            <span className="block">{one.says}</span>
          </li>
        ))}
      </ul>
    </section>
  )
}

/** What a baseline's rig did by itself, as its hold told it. */
function ByItself({ kit }: { kit: KitOut }) {
  const rows: [string, string][] = [
    ["lost by itself", `${textAt(kit.sheet, "leak")}, at most ${textAt(kit.sheet, "leak_most")}`],
    ["held at", `${textAt(kit.sheet, "pressure")} under ${textAt(kit.sheet, "medium")}`],
    ["on", day(textAt(kit.sheet, "on"))],
    ["warmth", textAt(kit.sheet, "coldest") ? `${textAt(kit.sheet, "coldest")} to ${textAt(kit.sheet, "warmest")}`.replaceAll("degC", "°C") : "not read"],
  ]
  return (
    <section className="mb-3" aria-label="What it did by itself">
      <dl className="grid grid-cols-[auto_1fr] gap-x-4 text-note">
        {rows.map(([name, value]) => (
          <div key={name} className="contents">
            <dt className="text-quiet">{name}</dt>
            <dd className="figure">{value}</dd>
          </div>
        ))}
      </dl>
      <Link className="text-small text-water-ink dotted" to={`/trials/${textAt(kit.sheet, "trial")}/judge`}>
        its hold
      </Link>
    </section>
  )
}

/** What articles of a design that were taken to failure bore. */
function Proved({ kit, habit }: { kit: KitOut; habit: Units }) {
  const { data: told } = useProved(kit.id)
  return told ? <Burst told={told} habit={habit} /> : null
}

type FormProps = { kit: KitOut | null; habit: Units; close: () => void; takeDown: (kit: KitOut) => void }

function Form({ kit, habit, close, takeDown }: FormProps) {
  const [kind, setKind] = useState(kit?.kind ?? "gauge")
  const [name, setName] = useState(kit?.name ?? "")
  const [sheet, setSheet] = useState<Record<string, unknown>>(kit?.sheet ?? {})
  const keep = useKeepKit(kit?.id ?? null)
  const refusal = keep.error as Refusal | null
  const says = (path: string) => (refusal?.field === path ? refusal.message : null)
  const set = (path: string, value: unknown) => setSheet(withAt(sheet, path, value === "" ? undefined : value))
  const told = KINDS[kind]!.told
  const form = useRef<HTMLFormElement>(null)
  useEffect(() => {
    if (refusal?.field && form.current) leadToFault(form.current, true)
  }, [refusal])
  return (
    <form
      ref={form}
      noValidate
      onSubmit={(event) => {
        event.preventDefault()
        if (leadToFault(event.currentTarget)) return
        keep.mutate({ kind, name, sheet, notes: kit?.notes ?? "", version: kit?.version ?? 1 }, { onSuccess: close })
      }}
    >
      <h2 className="mb-2 text-lg">{kit ? kit.name : "Hang up a piece of kit"}</h2>
      {!kit && (
        <Pick
          label="What it is"
          value={kind}
          onChange={(id) => (setKind(id), setSheet({}))}
          options={Object.entries(KINDS)
            .filter(([, k]) => !k.by_trial)
            .map(([id, k]) => [id, k.name] as const)}
        />
      )}
      <Text label="Name" value={name} onChange={setName} required autoFocus hint="what is written on it, or where it hangs" />
      <div className="grid grid-cols-2 gap-x-4">
        {told.map(([path, label, type, hint]) =>
          type === "text" || type === "date" || type === "number" ? (
            <Text
              key={path}
              type={type === "date" ? "date" : "text"}
              label={label}
              value={textAt(sheet, path)}
              onChange={(text) => set(path, type === "number" && text.trim() !== "" && Number.isFinite(number(text)) ? number(text) : text)}
              says={says(path)}
              hint={hint}
            />
          ) : (
            <QuantityField
              key={path}
              label={label}
              kind={type}
              unit={UNITS[type]?.[habit]}
              hint={hint}
              value={textAt(sheet, path)}
              onChange={(text) => set(path, text)}
              problem={says(path)}
            />
          ),
        )}
      </div>
      {kind === "gauge" && (
        <div className="mb-3 grid place-items-center">
          <GaugeDial sheet={sheet} size={190} />
        </div>
      )}
      {kit?.kind === "relief-valve" && <Tried kit={kit} />}
      {kit?.kind === "baseline" && <ByItself kit={kit} />}
      {kit?.kind === "design" && <Proved kit={kit} habit={habit} />}
      {refusal && !told.some(([path]) => path === refusal.field) && <Alert className="mb-3">{refusal.message}</Alert>}
      <div className="flex flex-wrap gap-3">
        <button className="btn btn-primary" disabled={keep.isPending}>
          {kit ? "Keep the changes" : "Hang it up"} <kbd className="key">⏎</kbd>
        </button>
        <button type="button" className="btn btn-ghost" onClick={close}>
          Leave it
        </button>
        {kit && (
          <button type="button" className="btn btn-ghost ml-auto text-vermilion" onClick={() => takeDown(kit)}>
            Take it down
          </button>
        )}
      </div>
    </form>
  )
}

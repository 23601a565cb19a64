import type { ComponentType } from "react"
import { later } from "../app/later"
import type { Habit } from "../parts/units"
import type { BenchState, Hands } from "./queries"

type PanelProps = { bench: BenchState; hands: Hands; habit: Habit }
export type Instrument = { name: string; key: string; Panel: ComponentType<PanelProps> }

/** The panels of what is observed place by place, by the instrument that a kind of trial names: a new one is a row here and its panel. */
export const INSTRUMENTS: Record<string, Instrument> = {
  relief: { name: "Valve", key: "u", Panel: later<PanelProps>(() => import("./ReliefPanel").then((it) => it.ReliefPanel)) },
  steam: { name: "Steam", key: "u", Panel: later<PanelProps>(() => import("./SteamPanel").then((it) => it.SteamPanel)) },
  sections: { name: "Sections", key: "z", Panel: later<PanelProps>(() => import("./SectionsPanel").then((it) => it.SectionsPanel)) },
  expansion: { name: "What it gives", key: "u", Panel: later<PanelProps>(() => import("./ExpansionPanel").then((it) => it.ExpansionPanel)) },
  tightening: { name: "Joint", key: "u", Panel: later<PanelProps>(() => import("./TighteningPanel").then((it) => it.TighteningPanel)) },
  burst: { name: "Failure", key: "u", Panel: later<PanelProps>(() => import("./BurstPanel").then((it) => it.BurstPanel)) },
  gas: { name: "Gas", key: "z", Panel: later<PanelProps>(() => import("./GasPanel").then((it) => it.GasPanel)) },
  soap: { name: "Soap map", key: "u", Panel: later<PanelProps>(() => import("./SoapPanel").then((it) => it.SoapPanel)) },
}

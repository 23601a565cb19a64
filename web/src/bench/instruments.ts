import type { ComponentType } from "react"
import type { Habit } from "../parts/units"
import type { BenchState, Hands } from "./queries"
import { BurstPanel } from "./BurstPanel"
import { ExpansionPanel } from "./ExpansionPanel"
import { GasPanel } from "./GasPanel"
import { ReliefPanel } from "./ReliefPanel"
import { SectionsPanel } from "./SectionsPanel"
import { SoapPanel } from "./SoapPanel"
import { SteamPanel } from "./SteamPanel"
import { TighteningPanel } from "./TighteningPanel"

export type Instrument = { name: string; key: string; Panel: ComponentType<{ bench: BenchState; hands: Hands; habit: Habit }> }

/** The panels of what is observed place by place, by the instrument that a kind of trial names: a new one is a row here and its panel. */
export const INSTRUMENTS: Record<string, Instrument> = {
  relief: { name: "Valve", key: "u", Panel: ReliefPanel },
  steam: { name: "Steam", key: "u", Panel: SteamPanel },
  sections: { name: "Sections", key: "z", Panel: SectionsPanel },
  expansion: { name: "What it gives", key: "u", Panel: ExpansionPanel },
  tightening: { name: "Joint", key: "u", Panel: TighteningPanel },
  burst: { name: "Failure", key: "u", Panel: BurstPanel },
  gas: { name: "Gas", key: "z", Panel: GasPanel },
  soap: { name: "Soap map", key: "u", Panel: SoapPanel },
}

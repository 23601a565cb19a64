import { Component, type ComponentType, type ReactNode } from "react"
import { BrowserRouter, Route, Routes, useLocation } from "react-router"
import { later } from "./later"
import { Loading } from "./Loading"
import { Shell } from "./Shell"
import { Away, Broken, NotFound } from "./states"

const room = (load: () => Promise<ComponentType>) => later(load, (away) => (away ? <Away /> : <Loading what="the room" />))

/** Every room, loaded when it is entered. */
const ROOMS: Record<string, ComponentType> = {
  "/": room(() => import("../shed/Shed").then((it) => it.Shed)),
  "/vessels/new": room(() => import("../shed/HangUp").then((it) => it.HangUp)),
  "/vessels/:id/leaks": room(() => import("../shed/Leaks").then((it) => it.Leaks)),
  "/vessels/:id": room(() => import("../shed/VesselPage").then((it) => it.VesselPage)),
  "/trials/:id/plan": room(() => import("../plan/PlanBoard").then((it) => it.PlanBoard)),
  "/trials/:id/gather": room(() => import("../plan/Gather").then((it) => it.Gather)),
  "/trials/:id/bench": room(() => import("../bench/Bench").then((it) => it.Bench)),
  "/trials/:id/judge": room(() => import("../judge/Judge").then((it) => it.Judge)),
  "/records": room(() => import("../records/Records").then((it) => it.Records)),
  "/records/due": room(() => import("../records/Due").then((it) => it.Due)),
  "/records/keep": room(() => import("../records/Keep").then((it) => it.Keep)),
  "/records/compare": room(() => import("../records/Compare").then((it) => it.Compare)),
  "/records/:id": room(() => import("../records/Record").then((it) => it.Record)),
  "/people": room(() => import("../people/People").then((it) => it.People)),
  "/join": room(() => import("../people/Join").then((it) => it.Join)),
  "/kit": room(() => import("../kit/Kit").then((it) => it.Kit)),
}

/** The application: its shell, and the room that the address names. */
export function Rooms() {
  return (
    <BrowserRouter>
      <Fallen>
        <Routes>
          <Route element={<Shell />}>
            {Object.entries(ROOMS).map(([path, Room]) => (
              <Route key={path} path={path} element={<Room key={path} />} />
            ))}
            <Route path="*" element={<NotFound />} />
          </Route>
        </Routes>
      </Fallen>
    </BrowserRouter>
  )
}

/** What a room that fell over leaves: the words that help whoever mends it. Another address is another try. */
function Fallen({ children }: { children: ReactNode }) {
  return <Boundary at={useLocation().key}>{children}</Boundary>
}

class Boundary extends Component<{ at: string; children: ReactNode }, { error: unknown }> {
  override state = { error: null as unknown }

  static getDerivedStateFromError(error: unknown) {
    return { error }
  }

  override componentDidUpdate(before: { at: string }) {
    if (before.at !== this.props.at && this.state.error !== null) this.setState({ error: null })
  }

  override render() {
    return this.state.error === null ? this.props.children : <Broken error={this.state.error} />
  }
}

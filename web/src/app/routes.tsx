import { Component, lazy, type ComponentType, type ReactNode } from "react"
import { BrowserRouter, Route, Routes, useLocation } from "react-router"
import { Shell } from "./Shell"
import { Broken, NotFound, Soon } from "./states"

/** Every room, loaded when it is entered. */
const ROOMS: Record<string, () => Promise<ComponentType>> = {
  "/": () => import("../shed/Shed").then((room) => room.Shed),
  "/vessels/new": () => import("../shed/HangUp").then((room) => room.HangUp),
  "/vessels/:id": () => import("../shed/VesselPage").then((room) => room.VesselPage),
  "/trials/:id/plan": () => import("../plan/PlanBoard").then((room) => room.PlanBoard),
  "/trials/:id/gather": () => import("../plan/Gather").then((room) => room.Gather),
  "/trials/:id/bench": () => import("../bench/Bench").then((room) => room.Bench),
  "/trials/:id/judge": () => import("../judge/Judge").then((room) => room.Judge),
  "/records": () => import("../records/Records").then((room) => room.Records),
  "/records/due": () => import("../records/Due").then((room) => room.Due),
  "/records/keep": () => import("../records/Keep").then((room) => room.Keep),
  "/records/compare": () => import("../records/Compare").then((room) => room.Compare),
  "/records/:id": () => import("../records/Record").then((room) => room.Record),
  "/kit": () => import("../kit/Kit").then((room) => room.Kit),
}

const entered = Object.entries(ROOMS).map(([path, load]) => {
  const Room = lazy(async () => ({ default: await load() }))
  return <Route key={path} path={path} element={<Room />} />
})

/** The application: its shell, and the room that the address names. */
export function Rooms() {
  return (
    <BrowserRouter>
      <Fallen>
        <Routes>
          <Route element={<Shell />}>
            {entered}
            <Route path="/practice" element={<Soon />} />
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

/** Fetch the other rooms while nothing else is to do: a run goes on when the server is away, and so do the ways to and from it. */
export function fetchRooms() {
  for (const load of Object.values(ROOMS)) load().catch(() => undefined)
}

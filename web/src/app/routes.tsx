import { Component, useEffect, useState, type ComponentType, type ReactNode } from "react"
import { BrowserRouter, Route, Routes, useLocation } from "react-router"
import { Loading } from "./Loading"
import { Shell } from "./Shell"
import { Away, Broken, NotFound } from "./states"

/** Every room, loaded when it is entered. */
const ROOMS: Record<string, () => Promise<ComponentType>> = {
  "/": () => import("../shed/Shed").then((room) => room.Shed),
  "/vessels/new": () => import("../shed/HangUp").then((room) => room.HangUp),
  "/vessels/:id/leaks": () => import("../shed/Leaks").then((room) => room.Leaks),
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
  "/people": () => import("../people/People").then((room) => room.People),
  "/join": () => import("../people/Join").then((room) => room.Join),
  "/kit": () => import("../kit/Kit").then((room) => room.Kit),
}

/** Rooms that were fetched, by their path. */
const fetched = new Map<string, ComponentType>()

async function fetchRoom(path: string): Promise<ComponentType> {
  const room = await ROOMS[path]!()
  fetched.set(path, room)
  return room
}

const AGAIN = 2_000

/** A room, at once where it was fetched before; where the server is away, as soon as that is back. Suspense would hold each back for a third of a second. */
function Entered({ path }: { path: string }) {
  const [Room, setRoom] = useState(() => fetched.get(path))
  const [away, setAway] = useState(false)
  useEffect(() => {
    if (Room) return
    const fetching = () =>
      void fetchRoom(path).then(
        (room) => setRoom(() => room),
        () => setAway(true),
      )
    fetching()
    const again = setInterval(fetching, AGAIN)
    return () => clearInterval(again)
  }, [path, Room])
  if (Room) return <Room />
  return away ? <Away /> : <Loading what="the room" />
}

/** The application: its shell, and the room that the address names. */
export function Rooms() {
  return (
    <BrowserRouter>
      <Fallen>
        <Routes>
          <Route element={<Shell />}>
            {Object.keys(ROOMS).map((path) => (
              <Route key={path} path={path} element={<Entered key={path} path={path} />} />
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

/** Fetch the other rooms while nothing else is to do: a run goes on when the server is away, and so do the ways to and from it. */
export function fetchRooms() {
  for (const path of Object.keys(ROOMS)) fetchRoom(path).catch(() => undefined)
}

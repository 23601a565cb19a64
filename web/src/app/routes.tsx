import { createBrowserRouter } from "react-router"
import { Bench } from "../bench/Bench"
import { Kit } from "../kit/Kit"
import { Judge } from "../judge/Judge"
import { Gather } from "../plan/Gather"
import { PlanBoard } from "../plan/PlanBoard"
import { Compare } from "../records/Compare"
import { Due } from "../records/Due"
import { Keep } from "../records/Keep"
import { Record } from "../records/Record"
import { Records } from "../records/Records"
import { Shed } from "../shed/Shed"
import { HangUp } from "../shed/HangUp"
import { VesselPage } from "../shed/VesselPage"
import { Shell } from "./Shell"
import { Broken, NotFound, Soon } from "./states"

export const router = createBrowserRouter([
  {
    element: <Shell />,
    errorElement: <Broken />,
    children: [
      { path: "/", element: <Shed /> },
      { path: "/vessels/new", element: <HangUp /> },
      { path: "/vessels/:id", element: <VesselPage /> },
      { path: "/trials/:id/plan", element: <PlanBoard /> },
      { path: "/trials/:id/gather", element: <Gather /> },
      { path: "/trials/:id/bench", element: <Bench /> },
      { path: "/trials/:id/judge", element: <Judge /> },
      { path: "/records", element: <Records /> },
      { path: "/records/due", element: <Due /> },
      { path: "/records/keep", element: <Keep /> },
      { path: "/records/compare", element: <Compare /> },
      { path: "/records/:id", element: <Record /> },
      { path: "/kit", element: <Kit /> },
      { path: "/practice", element: <Soon /> },
      { path: "*", element: <NotFound /> },
    ],
  },
])

import { QueryClient } from "@tanstack/react-query"
import { PersistQueryClientProvider } from "@tanstack/react-query-persist-client"
import { StrictMode } from "react"
import { createRoot } from "react-dom/client"
import { Refusal } from "./api/client"
import { fetchLater } from "./app/later"
import { Rooms } from "./app/routes"
import { SEEN } from "./app/seen"
import "./styles.css"

/** What was refused is not asked again by itself: only what was not answered is. */
const refused = (problem: Error) => problem instanceof Refusal && problem.status >= 400 && problem.status < 500

// Always asked, also where the browser thinks it is offline: that the server does not answer has to be seen, never guessed.
const client = new QueryClient({
  defaultOptions: {
    queries: { retry: (count, problem) => count < 1 && !refused(problem), staleTime: 5_000, refetchOnWindowFocus: true, networkMode: "always" },
    mutations: { networkMode: "always" },
  },
})

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <PersistQueryClientProvider client={client} persistOptions={SEEN} onSuccess={() => client.invalidateQueries()}>
      <Rooms />
    </PersistQueryClientProvider>
  </StrictMode>,
)

addEventListener("load", () => setTimeout(fetchLater, 2_000))

import { QueryClient, QueryClientProvider } from "@tanstack/react-query"
import { StrictMode } from "react"
import { createRoot } from "react-dom/client"
import { fetchRooms, Rooms } from "./app/routes"
import "./styles.css"

const client = new QueryClient({ defaultOptions: { queries: { retry: 1, staleTime: 5_000, refetchOnWindowFocus: true } } })

createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <Rooms />
    </QueryClientProvider>
  </StrictMode>,
)

addEventListener("load", () => setTimeout(fetchRooms, 2_000))

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query"
import { useState } from "react"
import { api, asked, type Schema } from "../api/client"
import { Alert } from "../parts/Alert"
import { Dialog } from "../parts/Dialog"
import { ago, show, type Habit } from "../parts/units"
import { Examples } from "./Examples"
import type { BenchState } from "./queries"

/** The loggers: which of them reads for this run, and a new one with its token. */
export function DevicesDialog({ bench, habit, close }: { bench: BenchState; habit: Habit; close: () => void }) {
  const queries = useQueryClient()
  const [name, setName] = useState("")
  const [fresh, setFresh] = useState<Schema["NewDevice"] | null>(null)
  const devices = useQuery({ queryKey: ["devices"], queryFn: () => asked(api.GET("/api/devices")), refetchInterval: 1500 })
  const keep = (list: Schema["DeviceOut"][]) => queries.setQueryData(["devices"], list)
  const choose = useMutation({
    mutationFn: ({ id, on }: { id: string; on: boolean }) =>
      asked(api.POST("/api/trials/{trial_id}/devices/{device_id}", { params: { path: { trial_id: bench.id, device_id: id } }, body: { on } })),
    onSuccess: (list) => {
      keep(list)
      void queries.invalidateQueries({ queryKey: ["bench", bench.id] })
    },
  })
  const away = useMutation({
    mutationFn: (id: string) => asked(api.DELETE("/api/devices/{device_id}", { params: { path: { device_id: id } } })),
    onSuccess: keep,
  })
  const make = useMutation({
    mutationFn: () => asked(api.POST("/api/devices", { body: { name } })),
    onSuccess: (device) => {
      setFresh(device)
      setName("")
      void devices.refetch()
    },
  })
  const problem = choose.error ?? away.error ?? make.error
  return (
    <Dialog title="Loggers" close={close} wide>
      <ul>
        {devices.data?.map((device) => (
          <li key={device.id} className="flex flex-wrap items-center gap-3 border-b border-rule py-2">
            <span className="min-w-40 flex-1 text-lead">
              {device.name}
              <span className="block text-note text-quiet">
                {device.seen_at && device.seen_pressure != null
                  ? `${show(device.seen_pressure, "pressure", habit)}, ${ago(Math.max(0, devices.dataUpdatedAt - Date.parse(device.seen_at)) / 1000)}`
                  : "nothing heard of it yet"}
              </span>
            </span>
            <button className="btn h-12 border-line border-ink" onClick={() => choose.mutate({ id: device.id, on: device.trial !== bench.id })}>
              {device.trial === bench.id ? "Reads for this run: let it go" : "Let it read for this run"}
            </button>
            <button className="btn btn-ghost h-12" onClick={() => away.mutate(device.id)}>
              Withdraw its token
            </button>
          </li>
        ))}
        {devices.data?.length === 0 && (
          <li className="py-2 text-quiet">
            No logger yet. Anything that can send a line of JSON may be one: a pressure sensor on a small board, a data logger, a script.
          </li>
        )}
      </ul>
      {fresh && (
        <div className="strip my-3 border-moss" role="status">
          <p>
            The token of {fresh.name}, shown this once: <code className="figure break-all select-all">{fresh.token}</code>
          </p>
          <Examples token={fresh.token} />
        </div>
      )}
      <form
        className="mt-3 flex flex-wrap items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault()
          if (name.trim()) make.mutate()
        }}
      >
        <label className="min-w-48 flex-1 text-quiet">
          A new one is called
          <input className="input h-12 w-full bg-ground text-ink" value={name} onChange={(event) => setName(event.target.value)} placeholder="tank logger" />
        </label>
        <button className="btn btn-primary h-12" disabled={!name.trim() || make.isPending}>
          Give it a token
        </button>
        <button type="button" className="btn btn-ghost h-12" onClick={close}>
          Done <kbd className="key hidden sm:inline-grid">Esc</kbd>
        </button>
      </form>
      {problem && <Alert className="mt-3">{problem.message}</Alert>}
    </Dialog>
  )
}

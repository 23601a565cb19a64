import { useState } from "react"
import { useQuery } from "@tanstack/react-query"
import { api, asked } from "../api/client"

const line = (at: string, token: string, secure: boolean) => `curl${secure ? " --cacert toad-bell-workshop.crt" : ""} ${at}/api/devices/readings \\
  -H "Authorization: Bearer ${token}" -H "Content-Type: application/json" \\
  -d '{"readings": [{"id": "test-1", "pressure": "8.52 bar", "temperature": "16.2 degC", "ago": "0 s"}]}'`

const board = (at: string, token: string, secure: boolean) => `# MicroPython: one reading a second; what was not acknowledged is sent again.
import time, json, requests${secure ? "   # most boards' requests do not check a certificate" : ""}
URL, TOKEN = "${at}/api/devices/readings", "${token}"
boot, n, unsent = time.ticks_ms(), 0, []

def pressure():            # bar; put your sensor's line here
    return 8.52

while True:
    n += 1
    unsent.append(("boot%d-%d" % (boot, n), pressure(), time.ticks_ms()))
    now = time.ticks_ms()
    rows = [{"id": i, "pressure": "%.4f bar" % p, "ago": "%.2f s" % (time.ticks_diff(now, t) / 1000)} for i, p, t in unsent[:50]]
    try:
        r = requests.post(URL, data=json.dumps({"readings": rows}), headers={"Authorization": "Bearer " + TOKEN, "Content-Type": "application/json"})
        if r.status_code in (201, 422):
            unsent = unsent[50:]
        r.close()
    except OSError:
        pass               # out of reach: it is kept, and sent with its own age
    time.sleep(1)`

/** Ready to copy: how a logger hands a reading in, from a shell and from a small board; at this machine or over the network. */
export function Examples({ token }: { token: string }) {
  const share = useQuery({ queryKey: ["share"], queryFn: () => asked(api.GET("/api/share")) })
  const [kind, setKind] = useState<"curl" | "board">("curl")
  const [copied, setCopied] = useState(false)
  const at = share.data?.url ?? location.origin
  const secure = at.startsWith("https:")
  const text = kind === "curl" ? line(at, token, secure) : board(at, token, secure)
  const copy = () => void navigator.clipboard?.writeText(text).then(() => setCopied(true))
  return (
    <div className="mt-2">
      <div className="flex flex-wrap items-center gap-2" role="tablist" aria-label="Example">
        {(
          [
            ["curl", "From a shell"],
            ["board", "From a small board"],
          ] as const
        ).map(([id, name]) => (
          <button
            key={id}
            type="button"
            role="tab"
            aria-selected={kind === id}
            className={`min-h-11 border-b-bold px-2 ${kind === id ? "border-primary font-semibold" : "border-transparent text-quiet"}`}
            onClick={() => {
              setKind(id)
              setCopied(false)
            }}
          >
            {name}
          </button>
        ))}
        <button type="button" className="btn ml-auto h-11 border-line border-ink" onClick={copy}>
          {copied ? "Copied" : "Copy it"}
        </button>
      </div>
      <pre className="figure mt-2 max-h-64 overflow-auto bg-ground p-2 text-small font-normal">{text}</pre>
      <p className="mt-1 text-note font-normal">
        {secure ? (
          <>
            Over the workshop's network, while the door is open. The logger trusts{" "}
            <a className="dotted text-water-ink" href="/workshop.crt" download="toad-bell-workshop.crt">
              the workshop's certificate
            </a>
            .
          </>
        ) : (
          "From this machine alone. Bring a phone (+) opens the door to the network; then a logger of the same network hands in there, with the same token."
        )}
      </p>
    </div>
  )
}

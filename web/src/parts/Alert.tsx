import type { ReactNode } from "react"

/** What was refused or went wrong, in the server's words where it has any; read out as it appears. */
export function Alert({ className = "", children }: { className?: string; children: ReactNode }) {
  return (
    <p role="alert" className={`strip border-vermilion ${className}`}>
      {children}
    </p>
  )
}

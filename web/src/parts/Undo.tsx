/** What was taken away a moment ago, and the key that brings it back. */
export function Undo({ says, undo, busy }: { says: string; undo: () => void; busy: boolean }) {
  return (
    <p role="status" className="strip flex flex-wrap items-center gap-x-4 border-water">
      {says}
      <button className="btn btn-outline btn-sm border-line bg-ground min-h-9" onClick={undo} disabled={busy}>
        Undo
      </button>
    </p>
  )
}

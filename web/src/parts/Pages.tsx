/** Leafing through a long list. */
export function Pages({ page, pages, turn }: { page: number; pages: number; turn: (to: number) => void }) {
  const key = "btn btn-outline h-11 border-line bg-ground px-4"
  return (
    <nav aria-label="Pages" className="flex items-center gap-2">
      <button type="button" className={key} onClick={() => turn(page - 1)} disabled={page <= 1} aria-label="The page before">
        ←
      </button>
      <span className="text-note whitespace-nowrap">
        page {page} of {pages}
      </span>
      <button type="button" className={key} onClick={() => turn(page + 1)} disabled={page >= pages} aria-label="The next page">
        →
      </button>
    </nav>
  )
}

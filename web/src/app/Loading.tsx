/** That something is on its way. */
export function Loading({ what }: { what: string }) {
  return (
    <main className="grid flex-1 place-items-center p-8 text-quiet" aria-busy="true">
      Fetching {what} …
    </main>
  )
}

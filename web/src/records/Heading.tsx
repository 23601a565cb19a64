/** The heading of a part of a page of the records. */
export function Heading({ children }: { children: string }) {
  return <h2 className="mb-2 border-b-line border-ink pb-1 text-title">{children}</h2>
}

/**
 * Lead to what stops a form: the first field that is needed and empty, or, once it was handed in, that was refused, is brought into
 * view and gets the keys; each such field says so itself. Gives whether there was one. What else is typed wrong is for the server
 * to say: what the page knows of it may be a moment old.
 */
export function leadToFault(form: HTMLElement, refused = false): boolean {
  const fields = [...form.querySelectorAll<HTMLInputElement>("input, select, textarea")]
  const empty = fields.filter((field) => !field.checkValidity())
  const first = refused ? fields.find((field) => empty.includes(field) || field.getAttribute("aria-invalid") === "true") : empty[0]
  if (!first) return false
  first.closest("details")?.setAttribute("open", "")
  first.focus({ preventScroll: true })
  first.scrollIntoView({ block: "center" })
  return true
}

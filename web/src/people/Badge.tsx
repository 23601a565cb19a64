/** The colours by which people are told apart; initials say the same. */
const COLOURS: Record<string, string> = {
  pond: "bg-[#1e6153]",
  water: "bg-[#13658e]",
  brass: "bg-[#80580a]",
  moss: "bg-[#3f6a22]",
  plum: "bg-[#6b3a66]",
  slate: "bg-[#43535c]",
  rust: "bg-[#9a3a1a]",
  heather: "bg-[#5a4b8a]",
}

/** Somebody's initials on their colour. */
export function Badge({ initials, colour, large = false }: { initials: string; colour: string; large?: boolean }) {
  return (
    <span
      aria-hidden="true"
      className={`inline-grid shrink-0 place-items-center font-display font-bold text-white ${COLOURS[colour] ?? "bg-[#43535c]"} ${large ? "h-11 w-11 text-plain" : "h-7 w-7 text-fine"}`}
      style={{ borderRadius: 4 }}
    >
      {initials}
    </span>
  )
}

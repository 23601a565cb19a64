/** From so wide a picture on its words can be read. */
const SPEAKS = 300

/** A joint from the side, cut open along its axis: body, nut with its mark, olive, and the pipe that goes in. Not to scale but for its words. */
export function JointPicture({ inside, wall, width = 420 }: { inside?: string | null | undefined; wall?: string | null | undefined; width?: number }) {
  const named: [string, number, number, number, number][] = [
    ["body", 96, 30, 96, 62],
    ["olive", 196, 166, 214, 122],
    ["nut, with its mark", 264, 30, 252, 62],
    [`pipe${inside ? `, ${inside} inside` : ""}${wall ? `, wall ${wall}` : ""}`, 352, 166, 352, 121],
  ]
  return (
    <svg viewBox="0 0 460 184" width={width} className="max-w-full" role="img" aria-label="The joint: body, olive, nut and pipe" data-testid="joint-picture">
      <g stroke="var(--color-ink)" strokeWidth={2} strokeLinejoin="round">
        {/* The body with its cone, cut along its axis. */}
        <path d="M20 66 H186 L206 84 H20 Z" fill="var(--color-brass-soft)" />
        <path d="M20 136 H186 L206 118 H20 Z" fill="var(--color-brass-soft)" />
        {/* The pipe goes in as far as its stop. */}
        <path d="M130 86 H440 V92 H130 Z" fill="var(--color-rule)" />
        <path d="M130 110 H440 V116 H130 Z" fill="var(--color-rule)" />
        {/* The olive. */}
        <path d="M202 86 L214 76 H222 L234 86 Z" fill="var(--color-brass)" />
        <path d="M202 116 L214 126 H222 L234 116 Z" fill="var(--color-brass)" />
        {/* The nut: six sides from the side, its shoulder behind the olive. */}
        <path d="M190 58 H292 V80 H240 L226 70 H190 Z" fill="var(--color-paper)" />
        <path d="M190 144 H292 V122 H240 L226 132 H190 Z" fill="var(--color-paper)" />
      </g>
      <line x1={20} x2={446} y1={101} y2={101} stroke="var(--quiet)" strokeDasharray="14 4 3 4" />
      <line x1={252} x2={252} y1={59} y2={79} stroke="var(--color-vermilion)" strokeWidth={4} />
      {width >= SPEAKS &&
        named.map(([name, x, y, tx, ty]) => (
          <g key={name}>
            <line x1={x} x2={tx} y1={y > 100 ? y - 13 : y + 5} y2={ty} stroke="var(--quiet)" />
            <text x={x} y={y} textAnchor="middle" fontSize={13} fill="var(--color-ink)">
              {name}
            </text>
          </g>
        ))}
    </svg>
  )
}

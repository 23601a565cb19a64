/** What a phone shows at the first contact with a certificate that the workshop made itself: two sentences and a picture. */
export function FirstContact({ fingerprint }: { fingerprint: string }) {
  return (
    <div className="mt-2 flex gap-3 border-t-line border-rule pt-2 text-note text-quiet">
      <svg width="92" height="120" viewBox="0 0 92 120" fill="none" stroke="currentColor" strokeWidth="1.5" aria-hidden="true" className="shrink-0 text-ink">
        <rect x="6" y="2" width="80" height="116" rx="8" />
        <path d="M36 9h20" />
        <path d="M46 24 l13 23 h-26 z" strokeLinejoin="round" />
        <path d="M46 32v7M46 42.5v.5" strokeWidth="2" />
        <path d="M18 56h56M18 63h44" stroke="var(--color-rule)" strokeWidth="3" />
        <text x="18" y="80" fontSize="9" fill="currentColor" stroke="none">
          Advanced
        </text>
        <path d="M18 83h36" />
        <rect x="16" y="92" width="60" height="16" rx="3" />
        <text x="46" y="103" fontSize="9" textAnchor="middle" fill="currentColor" stroke="none">
          go on
        </text>
        <path d="M62 77 l8 0 m-4 -4 l4 4 l-4 4" />
      </svg>
      <div className="min-w-0">
        <p>
          The first time, the phone warns that it does not know this workshop: its certificate was made on this machine, not bought. Choose “Advanced”, then go
          on; the phone offers to take the certificate in once it is let in.
        </p>
        <details className="mt-1">
          <summary className="cursor-pointer">Compare its fingerprint</summary>
          <p className="figure text-fine break-words">SHA-256 {fingerprint}</p>
        </details>
      </div>
    </div>
  )
}

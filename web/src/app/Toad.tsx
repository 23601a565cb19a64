/** The mark: a toad that is a bell. */
export function Toad({ size = 34 }: { size?: number }) {
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 24 24"
      fill="none"
      stroke="currentColor"
      strokeWidth="1.5"
      strokeLinecap="round"
      strokeLinejoin="round"
      aria-hidden="true"
    >
      <circle cx="8" cy="4.6" r="2.1" />
      <circle cx="16" cy="4.6" r="2.1" />
      <path d="M5.6 18.4c1.5-1.6 1.6-3.6 1.6-6.1 0-3.1 1.7-5.6 4.8-5.6s4.8 2.5 4.8 5.6c0 2.5.1 4.5 1.6 6.1z" />
      <path d="M9.6 12.6c1.4 1.2 3.4 1.2 4.8 0" />
      <path d="M10.3 20.8c.9 1 2.5 1 3.4 0" />
    </svg>
  )
}

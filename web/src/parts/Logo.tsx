/** The mark: lines of copy nesting into a curve. */
export function Logo({ size = 24 }: { size?: number }) {
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 24 24"
      fill="none"
      stroke="currentColor"
      strokeWidth="2.2"
      strokeLinecap="round"
      aria-hidden
    >
      <path d="M1.5 6.5q10.5-5.5 21 0M3.5 11.5q8.5-4.6 17 0M6.5 16.5q5.5-3.2 11 0M10 21q2-1.1 4 0" />
    </svg>
  );
}

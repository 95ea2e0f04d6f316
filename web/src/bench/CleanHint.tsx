import { useEffect, useState } from "react";

/** Says how the clean view ends, for a moment. */
export function CleanHint() {
  const [said, setSaid] = useState(true);
  useEffect(() => {
    const timer = setTimeout(() => setSaid(false), 3000);
    return () => clearTimeout(timer);
  }, []);
  return said ? (
    <p
      role="status"
      className="card pointer-events-none absolute bottom-3 left-1/2 -translate-x-1/2 px-3 py-1.5 text-sm whitespace-nowrap"
    >
      Clean view, as it will print. <span className="text-soft">Esc: back to work</span>
    </p>
  ) : null;
}

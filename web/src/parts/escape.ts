import { caretGone, useStore } from "../state/store";

/** Out of what goes on, the innermost first. */
export function escape() {
  const state = useStore.getState();
  const { kind } = state.tool;
  if (state.onItsWay) useStore.setState({ onItsWay: null });
  if (kind === "points") return useStore.setState(state.points.length ? { points: [] } : { tool: { kind: "hand" } });
  if (kind === "why")
    return useStore.setState(state.why?.pinned ? { why: null } : { tool: { kind: "hand" }, why: null });
  if (kind === "subject") return useStore.setState({ tool: { kind: "hand" } });
  const open = document.querySelector<HTMLElement>(".part[data-open]");
  if (open) return open.click();
  caretGone(true);
  if (state.paragraphs || state.stretches.length) useStore.setState({ paragraphs: null, stretches: [] });
  if (state.clean) useStore.setState({ clean: false });
  else if (kind !== "hand") useStore.setState({ draft: null, points: [], tool: { kind: "hand" }, justMade: null });
  else if (state.justMade) useStore.setState({ justMade: null });
  else useStore.setState({ selected: null, others: [], points: [], draft: null });
}

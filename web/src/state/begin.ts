/** What goes on as long as the window is open: begun once, by the shell. */
import { guardWindow } from "./sending";
import { useStore } from "./store";
import { followTrying, previewTimes } from "./trying";
import { beginView } from "./viewing";

export function beginState() {
  beginView();
  guardWindow();
  followTrying();
  // Read by the measurements, and by tests.
  Object.assign(window, { nestLine: { previewTimes, store: useStore } });
}

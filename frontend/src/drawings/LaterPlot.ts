import { lazily } from "../ui/lazily";

/** The plot, with its library loaded when the first one is drawn. */
export const Plot = lazily(() => import("./Plot").then((found) => ({ default: found.Plot })));

/** The plot of a recording, likewise. */
export const RecordingPlot = lazily(() =>
  import("./RecordingPlot").then((found) => ({ default: found.RecordingPlot })),
);

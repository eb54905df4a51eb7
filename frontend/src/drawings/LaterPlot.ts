import { lazily } from "../ui/lazily";

/** The plot, with its library loaded when the first one is drawn. */
export const Plot = lazily(() => import("./Plot").then((found) => ({ default: found.Plot })));

import "@fontsource/overpass/latin-400.css";
import "@fontsource/overpass/latin-600.css";
import "@fontsource/overpass/latin-700.css";
import "@fontsource/overpass-mono/latin-400.css";
import "@fontsource/overpass-mono/latin-700.css";
import "./ui/fonts.css";
import "./ui/page.css";
import { keepApp } from "./api/offline";
import { speak } from "./ui/words";

// fonts load beside the scripts: loaded for the first page, each of them would lay it out again
for (const font of ["400 1em Overpass", "600 1em Overpass", "700 1em Overpass", "400 1em Overpass Mono"])
  document.fonts.load(font).catch(() => undefined);
// the large parts are evaluated one by one, not in one go with the page
for (const part of [import("react-dom/client"), import("./ui/theme")]) part.catch(() => undefined);
// the language is there before any page is: texts that stand beside the code are made when it is loaded
speak().then(() => import("./main"));
keepApp();

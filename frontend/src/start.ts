import { speak } from "./ui/words";

// the language is there before any page is: texts that stand beside the code are made when it is loaded
speak().then(() => import("./main"));

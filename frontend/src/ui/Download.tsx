import type { ReactNode } from "react";
import { offer } from "./files";
import { Small } from "./Small";
import { attempt } from "./toaster";
import { t } from "./words";

type Props = {
  load: () => Promise<Blob>;
  name: string;
  children: ReactNode;
};

/** A button for a PDF of the server, which comes in the language and the units of the person; a failure is said. */
export function Download({ load, name, children }: Props) {
  return <Small onClick={() => attempt(t("The PDF"), async () => offer(await load(), name))}>{children}</Small>;
}

import { Box } from "@chakra-ui/react";
import type { ReactNode } from "react";

/** Fields that most people can leave alone, out of the way until they are asked for. */
export function More({ label, children, open }: { label: string; children: ReactNode; open?: boolean }) {
  return (
    <details open={open}>
      <summary style={{ cursor: "pointer", minHeight: 32 }}>{label}</summary>
      <Box pt={2}>{children}</Box>
    </details>
  );
}

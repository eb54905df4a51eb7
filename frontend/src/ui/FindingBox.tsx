import { Box, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";
import type { Schemas } from "../api/client";
import { t } from "./words";

const BEGINS = { blocking: t("✕ Blocked:"), warning: t("! Warning:"), note: t("Note:") };

/** What a rule found, and what to do. */
export function FindingBox({
  finding,
  children,
}: {
  finding: Omit<Schemas["Finding"], "stage">;
  children?: ReactNode;
}) {
  const edge = { blocking: "bad.fg", warning: "signal.fg", note: "border.emphasized" }[finding.severity];
  return (
    <Box borderLeftWidth="4px" borderColor={edge} bg="bg.subtle" px={3} py={2} data-finding={finding.code}>
      <Text fontWeight="600" color={finding.severity === "blocking" ? "bad.fg" : "fg"}>
        {BEGINS[finding.severity]} {finding.message}
      </Text>
      <Text>{finding.remedy}</Text>
      {children}
    </Box>
  );
}

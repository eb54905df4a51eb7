import { Box, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { digits, figure, fixed } from "../../../ui/format";

/** Tables of the signal stand on the panel itself; on a phone their cells are small and break. */
export const TABLE = {
  "& tr": { bg: "transparent" },
  "& td, & th": {
    borderColor: "border",
    px: { base: 0.5, md: 1 },
    fontSize: { base: "xs", md: "sm" },
    whiteSpace: { base: "normal", md: "nowrap" },
  },
};

/** A number with its name above it. */
export function LabelledValue({ name, children, testId }: { name: string; children: ReactNode; testId?: string }) {
  return (
    <Box>
      <Text fontSize="sm" color="fg.muted">
        {name}
      </Text>
      <Text fontFamily="mono" fontSize="xl" data-testid={testId}>
        {children}
      </Text>
    </Box>
  );
}

/** What stands where there is nothing to show yet. */
export const Missing = ({ children }: { children: ReactNode }) => (
  <Box borderLeftWidth="4px" borderColor="signal.fg" bg="bg.subtle" px={3} py={2}>
    {children}
  </Box>
);

export const hz = (value: number) => (value >= 100 ? fixed(value, 0) : digits(value, 3));
export const ms = (value: number) => (value >= 1 ? `${digits(value, 3)} ms` : `${digits(1000 * value, 3)} µs`);

export const ohm = (value: number) =>
  value >= 1e6 ? `${figure(value / 1e6)} MΩ` : value >= 1000 ? `${figure(value / 1000)} kΩ` : `${figure(value)} Ω`;

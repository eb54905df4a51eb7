import { Button, type ButtonProps, Flex } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { t } from "./words";

/** The quiet button beside a field: large enough for a thumb, small enough for a form; a long label wraps. */
export function Small(props: ButtonProps) {
  return (
    <Button
      size="sm"
      variant="outline"
      minH={{ base: "44px", md: "40px" }}
      h="auto"
      py={1}
      maxW="100%"
      whiteSpace="normal"
      flexShrink={0}
      {...props}
    />
  );
}

/** One line of a list that can be removed. */
export function Line({ what, remove, children }: { what: string; remove: () => void; children: ReactNode }) {
  return (
    <Flex gap={2} align="flex-end">
      {children}
      <Small aria-label={t("Remove {0}", what)} onClick={remove}>
        ✕
      </Small>
    </Flex>
  );
}

/** A few things side by side, one of them chosen. */
export function Toggles({
  options,
  chosen,
  choose,
}: {
  options: string[];
  chosen: number;
  choose: (place: number) => void;
}) {
  return options.map((label, place) => (
    <Button
      // biome-ignore lint/suspicious/noArrayIndexKey: names may be the same, places are not
      key={place}
      size="sm"
      minH={{ base: "44px", md: "36px" }}
      variant={place === chosen ? "solid" : "outline"}
      colorPalette={place === chosen ? "signal" : undefined}
      aria-pressed={place === chosen}
      onClick={() => choose(place)}
    >
      {label || "…"}
    </Button>
  ));
}

/** The list without the item at a place. */
export const without = <T,>(list: readonly T[], place: number) => list.filter((_, at) => at !== place);

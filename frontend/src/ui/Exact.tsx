import { chakra } from "@chakra-ui/react";
import { useState } from "react";
import { t } from "./words";

/** A figure with the digits it deserves; a press shows all of them. */
export function Exact({ value, unit, children }: { value: number; unit: string; children: string }) {
  const [all, show] = useState(false);
  const full = `${value} ${unit}`.trim();
  return (
    <chakra.button
      type="button"
      className="exact"
      onClick={() => show(!all)}
      aria-pressed={all}
      aria-label={all ? t("{0}, all digits", full) : t("{0}, show all digits", children)}
      cursor="pointer"
      textAlign="left"
      font="inherit"
      maxW="100%"
      minH="28px"
      whiteSpace="normal"
      overflowWrap="anywhere"
    >
      {all ? full : children}
    </chakra.button>
  );
}

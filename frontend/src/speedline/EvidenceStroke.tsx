import { memo } from "react";
import type { Evidence } from "../api/client";
import { t } from "../ui/words";

/** The evidence in a word. */
export const SAID = { assumed: t("assumed"), measured: t("measured"), verified: t("verified"), failed: t("failed") };

/** Evidence drawn like a road marking: dashed assumed, solid measured, double solid verified, broken with a cross failed. */
export const EvidenceStroke = memo(function EvidenceStroke(props: {
  evidence: Evidence;
  color?: string /** Among many. */;
  small?: boolean;
}) {
  const { evidence, color = "currentColor", small } = props;
  const line = { stroke: color, strokeWidth: 3, x1: 0, x2: 100, vectorEffect: "non-scaling-stroke" as const };
  return (
    <svg
      viewBox="0 0 100 12"
      width="100%"
      height="12"
      preserveAspectRatio="none"
      role="img"
      aria-label={SAID[evidence]}
    >
      {evidence === "assumed" && <line {...line} y1="6" y2="6" strokeDasharray={small ? "4 3" : "10 8"} />}
      {evidence === "measured" && <line {...line} y1="6" y2="6" />}
      {evidence === "failed" && (
        <>
          <line {...line} x2="36" y1="6" y2="6" />
          <line {...line} x1="64" y1="6" y2="6" />
          <line {...line} x1="44" x2="56" y1="1.5" y2="10.5" />
          <line {...line} x1="44" x2="56" y1="10.5" y2="1.5" />
        </>
      )}
      {evidence === "verified" && (
        <>
          <line {...line} y1="2.5" y2="2.5" />
          <line {...line} y1="9.5" y2="9.5" />
        </>
      )}
    </svg>
  );
});

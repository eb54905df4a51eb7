import { Box, Text } from "@chakra-ui/react";
import type { Schemas } from "../../api/client";
import { percent } from "../../ui/format";
import { t } from "../../ui/words";

/** Mistakes that explain a figure, likeliest first; a probability stands only where one can be given. */
export function LikelyCauses({ causes, brief }: { causes: Schemas["Likely"][]; brief?: boolean }) {
  if (causes.length === 0) return null;
  return (
    <Box fontSize="sm" data-testid="likely-causes">
      <Text>{causes.length > 1 ? t("Likely causes, likeliest first:") : t("Likely cause:")}</Text>
      <Box as="ol" ps={causes.length > 1 ? 5 : 0} listStyleType={causes.length > 1 ? "decimal" : "none"}>
        {causes.map((cause) => (
          <Box as="li" key={cause.code + cause.text}>
            {cause.text}
            {cause.share_pct !== null && cause.share_pct !== undefined && ` (${percent(cause.share_pct)} %)`}.{" "}
            {!brief && cause.fix}
          </Box>
        ))}
      </Box>
    </Box>
  );
}

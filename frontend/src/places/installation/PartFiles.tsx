import { Box, Grid, Stack, Text } from "@chakra-ui/react";
import { Small } from "../../ui/Small";
import { t } from "../../ui/words";
import { useEvaluated } from "./context";
import { type FileKind, type Part, usePart } from "./sensing";

const FILES: [FileKind, string][] = [
  ["dxf", t("DXF, for the cutter")],
  ["svg", t("SVG, for the cutter")],
  ["pdf", t("PDF, 1:1 on paper")],
];

/** A part to make, drawn as it will be cut, and its files. */
export function PartFiles({ part, text }: { part: Part; text: string }) {
  const evaluated = useEvaluated();
  const { svg, error, save } = usePart(part, evaluated.document);
  return (
    <Grid
      templateColumns={{ base: "1fr", xl: "minmax(0, 250px) minmax(0, 1fr)" }}
      gap={3}
      data-testid={`${part}-files`}
    >
      {svg && (
        <Box bg="#f7f4ea" borderRadius="md" p={2}>
          <img
            src={`data:image/svg+xml,${encodeURIComponent(svg)}`}
            alt={`The ${part} as it is cut: ${text}`}
            style={{ width: "100%", maxHeight: 230, objectFit: "contain" }}
          />
        </Box>
      )}
      <Stack gap={2}>
        {FILES.map(([kind, label]) => (
          <Small key={kind} onClick={() => save(kind)} disabled={Boolean(error)}>
            {label}
          </Small>
        ))}
        {error && (
          <Text role="alert" color="bad.fg" fontWeight="600">
            ✕ {error}
          </Text>
        )}
      </Stack>
    </Grid>
  );
}

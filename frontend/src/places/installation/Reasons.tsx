import { Box, Button, Flex, Grid, Stack, Text } from "@chakra-ui/react";
import { memo } from "react";
import type { Catalogue, Evaluation, StageName } from "../../api/client";
import { SAID } from "../../speedline/EvidenceStroke";
import { stageLabel } from "../../speedline/stages";
import { fixed, percent, signed } from "../../ui/format";
import { useUnits } from "../../ui/units";
import { t } from "../../ui/words";
import { fieldLabel } from "./schema";

/** What the ± is made of, largest first. */
export const Contributions = memo(function Contributions({
  contributions,
  expanded_pct,
  onWater,
  go,
}: {
  contributions: Evaluation["contributions"];
  expanded_pct: number;
  onWater: boolean;
  go: (stage: StageName) => void;
}) {
  return (
    <Box>
      <Text fontSize="sm" color="fg.muted" mb={1}>
        {t("Contributions to ± {0} %", percent(expanded_pct))}
      </Text>
      <Stack gap={1}>
        {contributions.map((part) => (
          <Grid
            as="button"
            key={part.stage}
            onClick={() => go(part.stage)}
            templateColumns="64px minmax(60px, 150px) 54px 1fr"
            gap={2}
            alignItems="center"
            textAlign="left"
            minH="28px"
            cursor="pointer"
          >
            <Text fontSize="sm">{stageLabel(part.stage, onWater)}</Text>
            <Box bg="bg.muted" h="10px">
              <Box bg="signal.fg" h="10px" style={{ width: `${part.share_pct}%` }} />
            </Box>
            <Text fontFamily="mono" fontSize="sm">
              {fixed(part.share_pct, 0)} %
            </Text>
            <Text fontSize="sm" color="fg.muted" truncate>
              {part.source}
            </Text>
          </Grid>
        ))}
      </Stack>
    </Box>
  );
});

/** The formulas of one stage with this installation's numbers in them. */
export const Why = memo(function Why({
  found,
  open,
  toggle,
}: {
  found: Evaluation["stages"][number] | undefined;
  open: boolean;
  toggle: () => void;
}) {
  if (!found) return null;
  return (
    <Box>
      <Flex align="center" gap={2} wrap="wrap">
        <Button size="sm" variant="outline" minH={{ base: "44px", md: "36px" }} onClick={toggle} aria-expanded={open}>
          {t("Why?")}
        </Button>
        <Text fontSize="sm" color="fg.muted">
          {SAID[found.evidence]}: {found.grounds}
          {found.relative_standard_uncertainty_pct > 0 && `; u = ${percent(found.relative_standard_uncertainty_pct)} %`}
        </Text>
      </Flex>
      {open && (
        <Stack gap={2} mt={2} data-testid="why">
          {found.why.map((step) => (
            <Box key={step.formula} bg="bg.subtle" px={3} py={2}>
              <Text fontFamily="mono">{step.formula}</Text>
              <Text fontFamily="mono" fontWeight="700">
                {step.with_numbers}
              </Text>
              <Text fontSize="sm" color="fg.muted">
                {step.source}
              </Text>
            </Box>
          ))}
        </Stack>
      )}
    </Box>
  );
});

/** Before → after of the last edit, with its reason. */
export function Change(props: { catalogue: Catalogue; before?: Evaluation; after: Evaluation; changed: string[] }) {
  const { catalogue, before, after, changed } = props;
  const { show } = useUnits();
  if (!before || changed.length === 0) return null;
  const what =
    changed
      .slice(0, 2)
      .map((path) => fieldLabel(catalogue, path))
      .join(", ") + (changed.length > 2 ? " and more" : "");
  const moved = after.shown.error_pct - before.shown.error_pct;
  const rows: [string, string, string][] = [];
  const old = before.readouts[0]?.to_type.value;
  const now = after.readouts[0]?.to_type.value;
  if (Math.abs(moved) >= 0.005)
    rows.push([
      "shown",
      show(before.shown.shown_kmh, "km/h", 0.05)[0],
      show(after.shown.shown_kmh, "km/h", 0.05).join(" "),
    ]);
  if (old !== now) rows.push(["setting to enter", String(old), String(now)]);
  const [wide, narrow] = [before.shown.expanded_uncertainty_pct, after.shown.expanded_uncertainty_pct];
  if (percent(wide) !== percent(narrow)) rows.push(["±", percent(wide), `${percent(narrow)} %`]);
  const [stronger, weaker] = [after.placement_detail, before.placement_detail];
  if (stronger.possible && weaker.possible && fixed(stronger.weakest, 2) !== fixed(weaker.weakest, 2))
    rows.push(["signal at its weakest", fixed(weaker.weakest, 2), `${fixed(stronger.weakest, 2)} ×`]);
  const without = (some: Evaluation, others: Evaluation) =>
    some.findings.filter((item) => !others.findings.some((other) => other.code === item.code));
  const [fresh, gone] = [without(after, before), without(before, after)];
  return (
    <Flex gap={3} wrap="wrap" px={{ base: 3, md: 4 }} py={1} bg="bg.subtle" fontSize="sm" data-testid="change">
      <Text color="fg.muted">{t("Changed {0}:", what)}</Text>
      {rows.length === 0 && fresh.length + gone.length === 0 && <Text>{t("no figure changed")}</Text>}
      {fresh.length > 0 && <Text>{t("new findings: {0}", fresh.length)}</Text>}
      {gone.length > 0 && <Text>{t("settled findings: {0}", gone.length)}</Text>}
      {rows.map(([name, from, to]) => (
        <Text key={name}>
          {name}{" "}
          <Text as="span" fontFamily="mono">
            {from} → <b>{to}</b>
          </Text>
          {name === "shown" && ` (${signed(moved)} %)`}
        </Text>
      ))}
    </Flex>
  );
}

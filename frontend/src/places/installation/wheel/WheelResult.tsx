import { Box, Grid, Stack, Table, Text } from "@chakra-ui/react";
import { MethodsPlot } from "../../../drawings/MethodsPlot";
import { WheelOnGround } from "../../../drawings/WheelOnGround";
import { useView } from "../../../ui/address";
import { fixed, percent, signed } from "../../../ui/format";
import { Pending } from "../../../ui/Pending";
import { TableRoot } from "../../../ui/TableRoot";
import { useUnits } from "../../../ui/units";
import { Views } from "../../../ui/Views";
import { t } from "../../../ui/words";
import { useEvaluated } from "../context";
import { LikelyCauses } from "../LikelyCauses";
import { useComparison } from "./queries";
import { TyreChangeView } from "./TyreChangeView";
import { CorrectionInputs } from "./WheelInputs";

/** One turn of the wheel on its road, all methods against each other, the corrections, and a change of tyre. */
export function WheelResult() {
  const evaluated = useEvaluated();
  const [view, choose] = useView("ground");
  const stage = evaluated.result.stages[0];
  const onWater = evaluated.document.vehicle_kind === "boat";
  if (!stage) return null;
  const drawing = <WheelOnGround stage={stage} onWater={onWater} />;
  if (onWater) return drawing;
  return (
    <Views
      label={t("The wheel")}
      chosen={view}
      choose={choose}
      views={[
        { code: "ground", label: t("On the ground"), content: drawing },
        { code: "methods", label: t("Methods compared"), content: <Methods /> },
        { code: "corrections", label: t("Wear, load, growth"), content: <Corrections /> },
        { code: "tyre", label: t("Change the tyre"), content: <TyreChangeView /> },
      ]}
    />
  );
}

function Methods() {
  const evaluated = useEvaluated();
  const { show } = useUnits();
  const { asked, result } = useComparison(evaluated.document);
  if (!result) return <Pending asked={asked} text={t("Comparing …")} />;
  const label = (method: string) => result.lines.find((line) => line.method === method)?.label ?? method;
  const mean = show(result.combined_mm, "mm", (100 * result.combined_expanded_mm) / result.combined_mm);
  return (
    <Stack gap={2} data-testid="comparison">
      <MethodsPlot result={result} />
      {result.lines.length > 1 && (
        <Text>
          {t("Together:")}{" "}
          <Text as="span" fontFamily="mono" fontWeight="700">
            {mean[0]} ± {show(result.combined_expanded_mm, "mm", 10)[0]} {mean[1]}
          </Text>
          {`, ${result.text}`}
        </Text>
      )}
      {result.disagreements.map((item) => (
        <Box key={item.finding.message} borderLeftWidth="4px" borderColor="signal.fg" bg="bg.subtle" px={3} py={2}>
          <Text fontWeight="600">
            {t(
              "! {0} is {1} % from {2}; their uncertainties allow ± {3} %",
              label(item.first),
              signed(item.difference_pct, 1),
              label(item.second),
              percent(item.allowed_pct),
            )}
          </Text>
          <LikelyCauses causes={item.causes} />
          {item.causes.length === 0 && (
            <Text fontSize="sm">
              {t("No known mistake explains this difference. Repeat the measurement with the larger uncertainty.")}
            </Text>
          )}
        </Box>
      ))}
      {result.schools && (
        <Text fontSize="sm" color="fg.muted">
          {t("Two schools from diameter to circumference: {0}", result.schools)}
        </Text>
      )}
      {result.lines.length === 1 && <Text color="fg.muted">{t("Enter a second method to compare them here.")}</Text>}
    </Stack>
  );
}

function Corrections() {
  const evaluated = useEvaluated();
  const { show } = useUnits();
  const detail = evaluated.result.wheel_detail;
  const now = evaluated.result.stages[0]?.figures[0]?.value ?? 0;
  return (
    <Grid templateColumns={{ base: "1fr", xl: "minmax(0, 1fr) minmax(0, 1.2fr)" }} gap={4}>
      <CorrectionInputs />
      <Box overflowX="auto">
        <Text fontSize="sm" color="fg.muted">
          {t(
            "Measured {0}, in use now {1}",
            show(detail.measured_mm, "mm", 0.02).join(" "),
            show(now, "mm", 0.02).join(" "),
          )}
        </Text>
        <TableRoot>
          <Table.Header>
            <Table.Row>
              <Table.ColumnHeader>{t("Correction")}</Table.ColumnHeader>
              <Table.ColumnHeader>{t("{0} per turn", show(1, "mm")[1])}</Table.ColumnHeader>
              <Table.ColumnHeader>{t("% of it")}</Table.ColumnHeader>
              <Table.ColumnHeader />
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {detail.corrections.map((item) => (
              <Table.Row key={item.code}>
                <Table.Cell>
                  {item.label}
                  <Text fontSize="xs" color="fg.muted">
                    {item.text}
                  </Text>
                </Table.Cell>
                <Table.Cell fontFamily="mono" whiteSpace="nowrap">
                  {item.either_way
                    ? `± ${show(item.change_mm, "mm", 5)[0]}`
                    : signed(Number(show(item.change_mm, "mm", 1)[0]), 1)}
                </Table.Cell>
                <Table.Cell fontFamily="mono" whiteSpace="nowrap">
                  {item.either_way ? `± ${fixed(item.change_pct, 1)}` : signed(item.change_pct)}
                </Table.Cell>
                <Table.Cell color={item.applied ? "signal.fg" : "fg.muted"} whiteSpace="nowrap">
                  {item.applied ? t("in use") : t("to come")}
                </Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </TableRoot>
        {detail.corrections.length === 0 && <Text color="fg.muted">{t("No corrections.")}</Text>}
      </Box>
    </Grid>
  );
}

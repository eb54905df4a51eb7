import { Box, Grid, Stack, Text } from "@chakra-ui/react";
import { useDialog } from "../../../ui/address";
import { Line, Small, without } from "../../../ui/Small";
import { useUnits } from "../../../ui/units";
import { t } from "../../../ui/words";
import { useEditing, useEvaluated } from "../context";
import { Entries, Entry } from "../fields";
import { GuideSheet } from "../GuideSheet";
import { fieldAt } from "../schema";

/** What the sensor has to do here; starts from what follows from the installation. */
export function NeedsFields() {
  const { min_speed_kmh, max_speed_kmh } = useEvaluated().result.pulse_times;
  return (
    <Grid templateColumns="repeat(2, minmax(0, 1fr))" gap={3}>
      <Entry path="sensor.needs.min_speed_kmh" usual={String(min_speed_kmh)} />
      <Entry path="sensor.needs.max_speed_kmh" usual={String(max_speed_kmh)} />
      <Entry path="sensor.needs.supply_v" />
      <Entry path="sensor.needs.ambient_max_c" />
    </Grid>
  );
}

/** The facts of this sensor, its sensing element and its wires as tested. */
export function SensorData() {
  const { document, catalogue, set } = useEditing();
  const { show } = useUnits();
  const [dialog, open] = useDialog();
  const kind = catalogue.sensors.find((item) => item.code === document.sensor.kind);
  if (!kind) return null;
  const own = document.sensor.facts != null;
  const typical = kind.facts as unknown as Record<string, number | string | null>;
  return (
    <Stack gap={3} data-testid="sensor-data">
      <Text fontSize="sm">{t("Wires: {0}. Lowest speed: {1}. Note: {2}.", kind.wires, kind.lowest, kind.watch)}</Text>
      {own ? (
        <>
          <Entries of="sensor.facts" names={kind.asked} wide />
          <Small alignSelf="flex-start" onClick={() => set("sensor.facts", null)}>
            {t("Use typical values")}
          </Small>
        </>
      ) : (
        <>
          <Grid templateColumns="repeat(auto-fit, minmax(150px, 1fr))" gap={2}>
            {kind.asked.map((name) => {
              const field = fieldAt(catalogue, `sensor.facts.${name}`);
              const value = typical[name];
              const code = typeof value === "string" && field?.choices.find((item) => item.code === value)?.label;
              return (
                <Text key={name} fontSize="sm">
                  <Text as="span" color="fg.muted">
                    {field?.title}{" "}
                  </Text>
                  <Text as="span" fontFamily="mono">
                    {code || (value == null ? t("not known") : show(Number(value), field?.unit ?? "").join(" "))}
                  </Text>
                </Text>
              );
            })}
          </Grid>
          <Text fontSize="sm" color="fg.muted">
            {t("Typical values for this sensor type. Replace them with the data sheet of your sensor.")}
          </Text>
          <Small alignSelf="flex-start" onClick={() => set("sensor.facts", kind.facts)}>
            {t("Enter data sheet values")}
          </Small>
        </>
      )}
      <Entries of="sensor" names={["resistance_ohm"]} wide />
      <Grid templateColumns={{ base: "1fr", xl: "1fr 1fr" }} gap={5}>
        <Spot />
        <Wires open={() => open("unknown_sensor")} />
      </Grid>
      <GuideSheet code={dialog === "unknown_sensor" ? "unknown_sensor" : null} close={() => open(null)}>
        <WireLines />
      </GuideSheet>
    </Stack>
  );
}

function Spot() {
  return (
    <Stack gap={2}>
      <Text fontWeight="600">{t("Sensing element")}</Text>
      <Entry path="sensor.element_mark.feature" />
      <Entries of="sensor.element_mark" names={["along_mm", "across_mm"]} />
      <Text fontSize="xs" color="fg.muted">
        {t(
          "Measured from the sensor centreline. The round feature that you see can be the mounting bolt, not the element.",
        )}
      </Text>
    </Stack>
  );
}

function Wires({ open }: { open: () => void }) {
  return (
    <Stack gap={2}>
      <Text fontWeight="600">{t("Wires as tested")}</Text>
      <WireLines />
      <Small alignSelf="flex-start" onClick={open}>
        {t("Show steps: an unknown sensor")}
      </Small>
    </Stack>
  );
}

function WireLines() {
  const { document, set } = useEditing();
  const wires = document.sensor.wires ?? [];
  return (
    <Stack gap={2}>
      {wires.map((_, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: wires have no identity but their place
        <Line key={at} what={t("wire {0}", at + 1)} remove={() => set("sensor.wires", without(wires, at))}>
          <Box w="70px" flexShrink={0}>
            <Entry path={`sensor.wires.${at}.pin`} />
          </Box>
          <Entry path={`sensor.wires.${at}.colour`} />
          <Entry path={`sensor.wires.${at}.role`} />
        </Line>
      ))}
      <Small
        alignSelf="flex-start"
        disabled={wires.length >= 8}
        onClick={() => set("sensor.wires", [...wires, { colour: "", role: "unknown" }])}
      >
        {t("Add wire")}
      </Small>
    </Stack>
  );
}

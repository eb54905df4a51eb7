import { Box, Button, chakra, Flex, Stack, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Small } from "../../../ui/Small";
import { useUnits } from "../../../ui/units";
import { useEditing } from "../context";
import { PickField, ProofField, QuantityField, WordsField } from "../fields";
import { GuideSheet } from "../GuideSheet";
import { EMPTY, methodsFor } from "../shape";
import { MethodFields } from "./MethodFields";
import { useComparison } from "./queries";

const MEASURED = ["taped_diameter", "axle_height", "taped_circumference", "roll_out", "speed_derived"];

/** Every method for the circumference: its figure, its entries when opened, and which one is in use. */
export function WheelInputs() {
  const { document, evaluated, catalogue, role, set } = useEditing();
  const { show } = useUnits();
  const wheel = document.wheel;
  const [opened, open] = useState<string>(wheel.method);
  const [guide, guideTo] = useState<string | null>(null);
  const result = useComparison(evaluated.document).data;
  const onWater = document.vehicle_kind === "boat";
  const methods = methodsFor(catalogue, document);
  const entries = wheel as unknown as Record<string, unknown>;
  /** What is known already: the row of the chart that belongs to the marking. */
  const known = (method: string) =>
    method === "chart" && result?.chart_row
      ? { label: result.chart_row.label, circumference_mm: result.chart_row.circumference_mm }
      : undefined;
  const use = (method: string) => {
    const measured = wheel.measured ?? {};
    const fresh = MEASURED.includes(method) && !measured.by && !measured.on;
    const today = new Date().toISOString().slice(0, 10);
    set("wheel", {
      ...wheel,
      method,
      ...(method === "combined" ? {} : { [method]: entries[method] ?? known(method) ?? EMPTY.wheel?.[method] }),
      ...(fresh ? { measured: { ...measured, by: role, on: today } } : {}),
    });
    open(method);
  };
  const rows = [
    ...methods,
    ...(result && result.lines.length > 1
      ? catalogue.wheel_methods.filter((item) => item.code === "combined" && !onWater)
      : []),
  ];
  return (
    <Stack gap={3}>
      <fieldset style={{ border: 0, padding: 0, margin: 0, minWidth: 0 }}>
        <legend style={{ fontSize: "0.875rem", marginBottom: 4 }}>
          {onWater ? "How is the run per turn known?" : "How is the circumference known?"}
        </legend>
        {rows.map((method) => {
          const line = result?.lines.find((item) => item.method === method.code);
          const figures =
            method.code === "combined" && result
              ? [result.combined_mm, result.combined_expanded_mm]
              : line && [line.circumference_mm, line.expanded_mm];
          const inUse = wheel.method === method.code;
          const isOpen = opened === method.code && method.code !== "combined";
          return (
            <Box
              key={method.code}
              borderTopWidth="1px"
              bg={inUse ? "signal.subtle" : undefined}
              data-testid={`method-${method.code}`}
            >
              <Flex align="center" gap={2} minH={{ base: "44px", md: "34px" }}>
                <label
                  style={{ display: "flex", gap: 10, flex: 1, minWidth: 0, cursor: "pointer", padding: "4px 6px" }}
                >
                  <input
                    type="radio"
                    name="wheel-method"
                    value={method.code}
                    checked={inUse}
                    onChange={() => use(method.code)}
                    style={{ accentColor: "var(--chakra-colors-signal-fg)" }}
                  />
                  <Text as="span" truncate fontWeight={inUse ? "700" : undefined}>
                    {onWater && method.code === "entered" ? "Known run per turn" : method.label}
                  </Text>
                </label>
                {figures && (
                  <Text fontFamily="mono" fontSize="sm" whiteSpace="nowrap">
                    {show(figures[0] ?? 0, "mm", (50 * (figures[1] ?? 0)) / (figures[0] ?? 1))[0]} ±{" "}
                    {show(figures[1] ?? 0, "mm", 20)[0]}
                  </Text>
                )}
                {method.code !== "combined" && (
                  <chakra.button
                    type="button"
                    minW="44px"
                    minH={{ base: "44px", md: "34px" }}
                    cursor="pointer"
                    color="signal.fg"
                    aria-expanded={isOpen}
                    aria-label={`${isOpen ? "Close" : "Open"} ${method.label}`}
                    onClick={() => open(isOpen ? "" : method.code)}
                  >
                    {isOpen ? "▾" : line ? "▸" : "+"}
                  </chakra.button>
                )}
              </Flex>
              {isOpen && (
                <Stack gap={2} px={2} pb={3}>
                  {method.hint && (
                    <Text fontSize="xs" color="fg.subtle">
                      {method.hint}
                    </Text>
                  )}
                  <MethodFields method={method.code} />
                  <Flex gap={2} wrap="wrap">
                    {catalogue.guides.some((item) => item.code === method.code) && (
                      <Small onClick={() => guideTo(method.code)}>Show steps</Small>
                    )}
                    {!inUse && entries[method.code] != null && (
                      <>
                        <Small onClick={() => use(method.code)}>Use this</Small>
                        <Button
                          size="sm"
                          variant="ghost"
                          color="fg"
                          minH="40px"
                          onClick={() => set(`wheel.${method.code}`, null)}
                        >
                          Clear it
                        </Button>
                      </>
                    )}
                  </Flex>
                </Stack>
              )}
            </Box>
          );
        })}
      </fieldset>
      {!onWater && <Circumstances />}
      <ProofField path="wheel.verification" stage="wheel" />
      {guide && (
        <GuideSheet code={guide} close={() => guideTo(null)}>
          <MethodFields method={guide} />
        </GuideSheet>
      )}
    </Stack>
  );
}

function Circumstances() {
  const { document } = useEditing();
  const held = document.wheel.measured;
  const said = [
    held?.by,
    held?.on,
    held?.pressure_bar && `${held.pressure_bar} bar`,
    held?.load,
    held?.tread_depth_mm != null && `${held.tread_depth_mm} mm tread`,
  ].filter(Boolean);
  return (
    <details>
      <summary style={{ cursor: "pointer", minHeight: 32 }}>
        Measured {said.length > 0 ? said.join(", ") : "by, date, pressure"}
      </summary>
      <Stack gap={2} pt={2}>
        <Flex gap={3}>
          <WordsField path="wheel.measured.by" label="Done by (role)" />
          <WordsField path="wheel.measured.on" label="Date" hint="2026-05-02" optional />
        </Flex>
        <Flex gap={3} align="flex-start">
          <QuantityField
            path="wheel.measured.pressure_bar"
            label="Pressure"
            unit="bar"
            optional
            nudge={0.1}
            hint="2.2, 32 psi"
          />
          <QuantityField
            path="wheel.measured.tread_depth_mm"
            label="Tread depth"
            unit="mm"
            optional
            nudge={0.5}
            hint="6.5, 8/32in"
          />
        </Flex>
        <WordsField path="wheel.measured.load" label="Load" hint="driver, half a tank" />
      </Stack>
    </details>
  );
}

/** What moves the circumference away from what was measured. */
export function CorrectionInputs() {
  const { document, set } = useEditing();
  const other = document.wheel.corrections?.other_load;
  return (
    <Stack gap={3}>
      <Flex gap={3} align="flex-start">
        <QuantityField path="wheel.corrections.tread_now_mm" label="Tread depth now" unit="mm" optional nudge={0.5} />
        <QuantityField
          path="wheel.corrections.tread_new_mm"
          label="Tread depth when new"
          unit="mm"
          nudge={0.5}
          usual="8"
        />
        <QuantityField
          path="wheel.corrections.tread_limit_mm"
          label="Tread depth at the wear limit"
          unit="mm"
          nudge={0.1}
          usual="1.6"
        />
      </Flex>
      <Flex gap={3} align="flex-start">
        <QuantityField
          path="wheel.corrections.growth_pct"
          label="Growth with speed"
          unit="%"
          optional
          nudge={0.1}
          hint="soft slicks; your own figure"
        />
        <QuantityField
          path="wheel.corrections.growth_at_kmh"
          label="Growth at speed"
          unit="km/h"
          nudge={10}
          usual="100"
        />
      </Flex>
      {document.wheel.roll_out &&
        (other ? (
          <Stack gap={2}>
            <Flex gap={3} align="flex-start">
              <QuantityField path="wheel.corrections.other_load.turns" label="Second roll-out: turns" unit="" />
              <QuantityField path="wheel.corrections.other_load.distance_mm" label="Distance" unit="mm" />
            </Flex>
            <WordsField path="wheel.corrections.other_load.load" label="Pressure or load" />
            <PickField
              path="wheel.corrections.other_load.applies"
              label="Used in this state"
              options={[
                { code: "false", label: "No, only to know the difference" },
                { code: "true", label: "Yes, use this" },
              ]}
              flag
            />
            <Small alignSelf="flex-start" onClick={() => set("wheel.corrections.other_load", null)}>
              Remove the second roll-out
            </Small>
          </Stack>
        ) : (
          <Small
            alignSelf="flex-start"
            onClick={() => set("wheel.corrections.other_load", { turns: 3, distance_mm: "" })}
          >
            Roll out at another pressure or load
          </Small>
        ))}
    </Stack>
  );
}

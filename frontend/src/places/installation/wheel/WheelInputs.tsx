import "./methods.css";
import { Button, Flex, Stack, Text } from "@chakra-ui/react";
import { useState } from "react";
import { useDialog } from "../../../ui/address";
import { today } from "../../../ui/format";
import { Small } from "../../../ui/Small";
import { useUnits } from "../../../ui/units";
import { t } from "../../../ui/words";
import { useEditing } from "../context";
import { Entries, Entry, ProofField } from "../fields";
import { GuideSheet, ShowSteps } from "../GuideSheet";
import { begun, methodsFor, withoutUnfinished } from "../schema";
import { MethodFields } from "./MethodFields";
import { useComparison } from "./queries";

/** The method whose row holds a dialog. */
const ROW_OF: Record<string, string | undefined> = { "cycle-chart": "chart", size: "marking" };

/** Every method for the circumference: its figure, its entries when opened, and which one is in use. */
export function WheelInputs() {
  const { document, evaluated, catalogue, problems, role, set } = useEditing();
  const { show } = useUnits();
  const wheel = document.wheel;
  const [dialog, guideTo] = useDialog();
  const [opened, open] = useState<string>((dialog && ROW_OF[dialog]) || wheel.method);
  const { result } = useComparison(evaluated.document);
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
    const choice = catalogue.wheel_methods.find((item) => item.code === method);
    const fresh = choice?.measured && !measured.by && !measured.on;
    set("wheel", {
      ...withoutUnfinished(catalogue, wheel, "wheel", problems, (name) => name === wheel.method),
      method,
      ...(method === "combined"
        ? {}
        : { [method]: entries[method] ?? known(method) ?? begun(catalogue, `wheel.${method}`) }),
      ...(fresh ? { measured: { ...measured, by: role, on: today() } } : {}),
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
          {onWater ? t("How is the run per turn known?") : t("How is the circumference known?")}
        </legend>
        {rows.map((method) => {
          const line = result?.lines.find((item) => item.method === method.code);
          const figures =
            method.code === "combined" && result
              ? [result.combined_mm, result.combined_expanded_mm]
              : line && [line.circumference_mm, line.expanded_mm];
          const inUse = wheel.method === method.code;
          const name = onWater && method.code === "entered" ? t("Known run per turn") : method.label;
          const isOpen = opened === method.code && method.code !== "combined";
          return (
            <div key={method.code} className="method-row" data-used={inUse} data-testid={`method-${method.code}`}>
              <div className="method">
                <label className="method-use">
                  <input
                    type="radio"
                    name="wheel-method"
                    value={method.code}
                    checked={inUse}
                    aria-label={name}
                    onChange={() => use(method.code)}
                  />
                  {method.code === "combined" && <span className="method-name">{name}</span>}
                </label>
                {method.code !== "combined" && (
                  <button
                    type="button"
                    className="method-name"
                    aria-expanded={isOpen}
                    onClick={() => open(isOpen ? "" : method.code)}
                  >
                    {name}
                  </button>
                )}
                {figures && (
                  <span className="method-figure">
                    {show(figures[0] ?? 0, "mm", (100 * (figures[1] ?? 0)) / (figures[0] ?? 1))[0]} ±{" "}
                    {show(figures[1] ?? 0, "mm", 20)[0]}
                  </span>
                )}
                {method.code !== "combined" && (
                  <button
                    type="button"
                    aria-expanded={isOpen}
                    aria-label={isOpen ? t("Close {0}", method.label) : t("Open {0}", method.label)}
                    onClick={() => open(isOpen ? "" : method.code)}
                  >
                    {isOpen ? "▾" : line ? "▸" : "+"}
                  </button>
                )}
              </div>
              {isOpen && (
                <Stack gap={2} px={2} pb={3}>
                  {method.hint && (
                    <Text fontSize="xs" color="fg.subtle">
                      {method.hint}
                    </Text>
                  )}
                  <MethodFields method={method.code} />
                  <Flex gap={2} wrap="wrap">
                    <ShowSteps code={method.code} open={guideTo} />
                    {!inUse && entries[method.code] != null && (
                      <>
                        <Small onClick={() => use(method.code)}>{t("Use this")}</Small>
                        <Button
                          size="sm"
                          variant="ghost"
                          color="fg"
                          minH="40px"
                          onClick={() => set(`wheel.${method.code}`, null)}
                        >
                          {t("Clear it")}
                        </Button>
                      </>
                    )}
                  </Flex>
                </Stack>
              )}
            </div>
          );
        })}
      </fieldset>
      {!onWater && <Circumstances />}
      <ProofField path="wheel.verification" stage="wheel" />
      {dialog && methods.some((method) => method.code === dialog) && (
        <GuideSheet code={dialog} close={() => guideTo(null)}>
          <MethodFields method={dialog} />
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
    held?.pressure_bar && t("{0} bar", held.pressure_bar),
    held?.load,
    held?.tread_depth_mm != null && t("{0} mm tread", held.tread_depth_mm),
  ].filter(Boolean);
  return (
    <details>
      <summary style={{ cursor: "pointer", minHeight: 32 }}>
        {t("Measured {0}", said.length > 0 ? said.join(", ") : t("by, date, pressure"))}
      </summary>
      <Stack gap={2} pt={2}>
        <Entries of="wheel.measured" names={["by", "on", "pressure_bar", "tread_depth_mm"]} />
        <Entry path="wheel.measured.load" />
      </Stack>
    </details>
  );
}

/** What moves the circumference away from what was measured. */
export function CorrectionInputs() {
  const { document, catalogue, set } = useEditing();
  const other = document.wheel.corrections?.other_load;
  return (
    <Stack gap={3}>
      <Entries
        of="wheel.corrections"
        names={["tread_now_mm", "tread_new_mm", "tread_limit_mm", "growth_pct", "growth_at_kmh"]}
      />
      {document.wheel.roll_out &&
        (other ? (
          <Stack gap={2}>
            <Entries of="wheel.corrections.other_load" names={["turns", "distance_mm", "load", "applies"]} />
            <Small alignSelf="flex-start" onClick={() => set("wheel.corrections.other_load", null)}>
              {t("Remove the second roll-out")}
            </Small>
          </Stack>
        ) : (
          <Small
            alignSelf="flex-start"
            onClick={() => set("wheel.corrections.other_load", begun(catalogue, "wheel.corrections.other_load"))}
          >
            {t("Roll out at another pressure or load")}
          </Small>
        ))}
    </Stack>
  );
}

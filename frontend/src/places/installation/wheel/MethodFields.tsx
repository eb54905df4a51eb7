import { Flex, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { getIn } from "../../../editing/paths";
import { TextField } from "../../../ui/fields";
import { Line, Small, without } from "../../../ui/Small";
import { useEditing } from "../context";
import { PickField, QuantityField, WordsField } from "../fields";
import { ChartSheet } from "./ChartSheet";
import { SizeSheet } from "./SizeSheet";

const pair = { templateColumns: "repeat(2, minmax(0, 1fr))", gap: 3 } as const;

/** The entries of one method for the circumference. */
export function MethodFields({ method }: { method: string }) {
  const { document } = useEditing();
  const onWater = document.vehicle_kind === "boat";
  if (method === "marking") return <Marking />;
  if (method === "chart") return <Chart />;
  if (method === "speed_derived") return <SpeedDerived />;
  if (method === "taped_diameter")
    return (
      <>
        <Grid {...pair}>
          <QuantityField
            path="wheel.taped_diameter.diameter_mm"
            label="Height, floor to top"
            unit="mm"
            hint="660, 26in, 0.66 m"
          />
          <QuantityField
            path="wheel.taped_diameter.reading_mm"
            label="Reading uncertainty ±"
            unit="mm"
            nudge={0.5}
            usual="2"
          />
        </Grid>
        <Repeats path="wheel.taped_diameter.repeats_mm" label="Height, floor to top" />
      </>
    );
  if (method === "axle_height")
    return (
      <Grid {...pair}>
        <QuantityField path="wheel.axle_height.axle_height_mm" label="Axle height, loaded" unit="mm" hint="305, 12in" />
        <QuantityField
          path="wheel.axle_height.unloaded_diameter_mm"
          label="Diameter, wheel lifted"
          unit="mm"
          optional
          hint="empty: from the marking"
        />
        <QuantityField
          path="wheel.axle_height.reading_mm"
          label="Reading uncertainty ±"
          unit="mm"
          nudge={0.5}
          usual="2"
        />
      </Grid>
    );
  if (method === "taped_circumference")
    return (
      <>
        <Grid {...pair}>
          <QuantityField
            path="wheel.taped_circumference.circumference_mm"
            label="Circumference over the tread"
            unit="mm"
          />
          <QuantityField
            path="wheel.taped_circumference.reading_mm"
            label="Reading uncertainty ±"
            unit="mm"
            nudge={0.5}
            usual="3"
          />
        </Grid>
        <Repeats path="wheel.taped_circumference.repeats_mm" label="Circumference over the tread" />
      </>
    );
  if (method === "roll_out")
    return (
      <>
        <Grid {...pair}>
          <QuantityField path="wheel.roll_out.turns" label="Turns" unit="" />
          <QuantityField path="wheel.roll_out.distance_mm" label="Distance" unit="mm" hint="6210, 6.21 m" />
          <QuantityField path="wheel.roll_out.tape_mm" label="Tape uncertainty" unit="mm" nudge={0.5} usual="2" />
          <QuantityField path="wheel.roll_out.mark_mm" label="Mark uncertainty" unit="mm" nudge={0.5} usual="1" />
        </Grid>
        <Repeats path="wheel.roll_out.repeats_mm" label="Distance" />
      </>
    );
  if (method === "paddle")
    return (
      <Grid {...pair}>
        <QuantityField
          path="wheel.paddle.pulses_per_nautical_mile"
          label="Pulses per nautical mile"
          unit=""
          nudge={100}
          usual="20000"
        />
        <QuantityField
          path="wheel.paddle.calibration_pct"
          label="Calibration"
          unit="%"
          optional
          nudge={0.1}
          hint="100·(true/shown − 1), after a run both ways"
        />
      </Grid>
    );
  return (
    <Grid {...pair}>
      <QuantityField
        path="wheel.entered.circumference_mm"
        label={onWater ? "Run per turn of the paddle" : "Circumference"}
        unit="mm"
        hint="2105, 2.105 m"
      />
      <Sources />
    </Grid>
  );
}

function Sources() {
  const { catalogue } = useEditing();
  return <PickField path="wheel.entered.source" label="Source" options={catalogue.sources} />;
}

function Marking() {
  const { evaluated, catalogue, set } = useEditing();
  const [open, setOpen] = useState(false);
  const understood = evaluated.document.wheel.method === "marking" && evaluated.result.stages[0]?.why[0]?.source;
  return (
    <>
      <WordsField
        path="wheel.marking.text"
        label="Size marking on the sidewall"
        meaning={understood || undefined}
        hint={catalogue.accepted_markings}
      />
      <Flex gap={2} align="flex-end">
        <PickField path="wheel.marking.factor" label="Factor from diameter" options={catalogue.factors} />
        <Small onClick={() => setOpen(true)}>Find the size</Small>
      </Flex>
      <SizeSheet open={open} close={() => setOpen(false)} take={(text) => set("wheel.marking.text", text)} />
    </>
  );
}

function Chart() {
  const { document, set } = useEditing();
  const [open, setOpen] = useState(false);
  return (
    <>
      <Flex gap={3} align="flex-end">
        <WordsField path="wheel.chart.label" label="Chart row" />
        <QuantityField path="wheel.chart.circumference_mm" label="Circumference" unit="mm" />
      </Flex>
      <Small alignSelf="flex-start" onClick={() => setOpen(true)}>
        Open the chart
      </Small>
      <ChartSheet
        open={open}
        close={() => setOpen(false)}
        take={(row) =>
          set("wheel.chart", { ...document.wheel.chart, label: row.label, circumference_mm: row.circumference_mm })
        }
      />
    </>
  );
}

function SpeedDerived() {
  const { document, catalogue } = useEditing();
  const basis = document.wheel.speed_derived?.basis ?? "satellite_speed";
  return (
    <>
      <PickField path="wheel.speed_derived.basis" label="Compared with" options={catalogue.speed_bases} />
      <Grid {...pair}>
        <QuantityField path="wheel.speed_derived.set_circumference_mm" label="Setting at the comparison" unit="mm" />
        {basis !== "measured_distance" && (
          <QuantityField path="wheel.speed_derived.shown_kmh" label="Reading" unit="km/h" hint="100, 62 mph" />
        )}
        {basis === "satellite_speed" && (
          <QuantityField path="wheel.speed_derived.true_kmh" label="True speed" unit="km/h" />
        )}
        {basis === "measured_distance" && (
          <QuantityField path="wheel.speed_derived.shown_km" label="Counted distance" unit="km" nudge={0.1} />
        )}
        {basis !== "satellite_speed" && (
          <QuantityField path="wheel.speed_derived.true_km" label="True distance" unit="km" hint="1 mile" nudge={0.1} />
        )}
        {basis === "timed_distance" && (
          <QuantityField path="wheel.speed_derived.time_s" label="Time taken" unit="s" nudge={0.1} />
        )}
      </Grid>
    </>
  );
}

/** The same reading again: a list that grows by one line at a time, with the running mean beside it. */
export function Repeats({ path, label }: { path: string; label: string }) {
  const { document, evaluated, set } = useEditing();
  const [next, setNext] = useState("");
  const held = (getIn(document, path) as unknown[] | undefined) ?? [];
  const method = path.split(".")[1];
  const result = evaluated.result.wheel_detail.progress.find((item) => item.method === method);
  if (!getIn(document, path.split(".").slice(0, 2).join("."))) return null;
  const add = () => {
    if (next.trim() === "" || held.length >= 11) return;
    set(path, [...held, next]);
    setNext("");
  };
  return (
    <>
      {held.map((_, place) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: readings have no identity but their place
        <Line key={place} what={`reading ${place + 2}`} remove={() => set(path, without(held, place))}>
          <QuantityField path={`${path}.${place}`} label={`${label}, again (${place + 2})`} unit="mm" />
        </Line>
      ))}
      <Flex
        as="form"
        gap={2}
        align="flex-end"
        onSubmit={(event) => {
          event.preventDefault();
          add();
        }}
      >
        <TextField
          label={`${label}, once more`}
          value={next}
          change={setNext}
          unit="mm"
          numeric
          testId={`${path}.next`}
        />
        <Small type="submit" disabled={held.length >= 11}>
          Add
        </Small>
      </Flex>
      {result && (
        <Text fontSize="sm" data-testid="progress">
          {result.readings} {result.readings === 1 ? "reading" : "readings"}: mean {result.mean_mm.toFixed(1)} mm a turn
          {result.scatter_mm !== null && `, scatter ${result.scatter_mm.toFixed(1)} mm`}. {result.text}
        </Text>
      )}
    </>
  );
}

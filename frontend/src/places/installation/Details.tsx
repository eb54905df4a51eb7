import { Box, Button, Field, Flex, Stack, Text, Textarea } from "@chakra-ui/react";
import { useState } from "react";
import { useNavigate } from "react-router";
import { useVehicleChanges } from "../../api/hooks";
import { Message } from "../../ui/Message";
import { Sheet } from "../../ui/Sheet";
import { Line, Small, without } from "../../ui/Small";
import { useEditing } from "./context";
import { PickField, QuantityField, WordsField } from "./fields";

/** More true speeds at which every display is checked. */
function CheckSpeeds() {
  const { document, set } = useEditing();
  const speeds = document.check_speeds_kmh ?? [];
  return (
    <Stack gap={2}>
      <Text fontSize="sm" color="fg.muted">
        Additional check speeds (true)
      </Text>
      <Flex gap={2} wrap="wrap" align="flex-end">
        {speeds.map((_, place) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: speeds have no identity but their place
          <Box key={place} w="180px">
            <Line what={`speed ${place + 2}`} remove={() => set("check_speeds_kmh", without(speeds, place))}>
              <QuantityField path={`check_speeds_kmh.${place}`} label={`Speed ${place + 2}`} unit="km/h" nudge={5} />
            </Line>
          </Box>
        ))}
        <Small
          disabled={speeds.length >= 12}
          onClick={() => set("check_speeds_kmh", [...speeds, document.check_speed_kmh ?? 100])}
        >
          Add check speed
        </Small>
      </Flex>
    </Stack>
  );
}

/** What the installation is called and for, notes, and where it can be deleted. */
export function Details({ installationId, open, close }: { installationId: number; open: boolean; close: () => void }) {
  const { document, evaluated, catalogue, base, preview, commit } = useEditing();
  const { deleteInstallation } = useVehicleChanges();
  const go = useNavigate();
  const [sure, ask] = useState(false);
  return (
    <Sheet
      open={open}
      close={close}
      title="Details of this installation"
      size="md"
      footer={
        sure ? (
          <>
            <Button variant="outline" onClick={() => ask(false)}>
              Cancel
            </Button>
            <Button
              colorPalette="red"
              onClick={() =>
                deleteInstallation.mutate({ id: installationId, revision: base.number }, { onSuccess: () => go("/") })
              }
            >
              Put installation and logbook into the bin
            </Button>
          </>
        ) : (
          <Button variant="outline" onClick={() => ask(true)}>
            Delete this installation …
          </Button>
        )
      }
    >
      <Stack gap={3}>
        {deleteInstallation.error && <Message text={deleteInstallation.error.message} bad />}
        <WordsField path="name" label="Name" />
        <PickField path="purpose" label="Purpose" options={catalogue.purposes} />
        <PickField path="vehicle_kind" label="Vehicle type" options={catalogue.vehicle_kinds} />
        <PickField path="sensed_at" label="Sensed wheel or axle" options={catalogue.places} />
        <PickField
          path="speedometer_rule"
          label="Rule for a road display (check your local rules)"
          options={catalogue.bands}
        />
        <Text fontSize="sm" color="fg.muted">
          {evaluated.result.rule_text}
        </Text>
        <CheckSpeeds />
        <Field.Root gap={1}>
          <Field.Label fontSize="sm" color="fg.muted">
            Notes
          </Field.Label>
          <Textarea
            rows={4}
            maxLength={2000}
            value={document.notes ?? ""}
            onChange={(event) => preview("notes", event.target.value)}
            onBlur={commit}
            bg="bg.subtle"
            borderColor="border.emphasized"
          />
        </Field.Root>
      </Stack>
    </Sheet>
  );
}

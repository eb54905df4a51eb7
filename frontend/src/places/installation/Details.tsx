import { Box, Button, Flex, Stack, Text } from "@chakra-ui/react";
import { useState } from "react";
import { useNavigate } from "react-router";
import { useVehicleChanges } from "../../api/hooks";
import { Labelled } from "../../ui/fields";
import { Message } from "../../ui/Message";
import { Sheet } from "../../ui/Sheet";
import { Line, Small, without } from "../../ui/Small";
import { t } from "../../ui/words";
import { useEditing } from "./context";
import { Entry } from "./fields";
import { fieldAt } from "./schema";

/** More true speeds at which every display is checked. */
function CheckSpeeds() {
  const { document, evaluated, catalogue, set } = useEditing();
  const speeds = document.check_speeds_kmh ?? [];
  return (
    <Stack gap={2}>
      <Text fontSize="sm" color="fg.muted">
        {t("Additional check speeds (true)")}
      </Text>
      <Flex gap={2} wrap="wrap" align="flex-end">
        {speeds.map((_, place) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: speeds have no identity but their place
          <Box key={place} w="180px">
            <Line what={t("speed {0}", place + 2)} remove={() => set("check_speeds_kmh", without(speeds, place))}>
              <Entry path={`check_speeds_kmh.${place}`} label={t("Speed {0}", place + 2)} />
            </Line>
          </Box>
        ))}
        <Small
          disabled={speeds.length >= (fieldAt(catalogue, "check_speeds_kmh")?.most ?? 0)}
          onClick={() => set("check_speeds_kmh", [...speeds, evaluated.document.check_speed_kmh])}
        >
          {t("Add check speed")}
        </Small>
      </Flex>
    </Stack>
  );
}

/** What the installation is called and for, notes, and where it can be deleted. */
export function Details({ installationId, open, close }: { installationId: number; open: boolean; close: () => void }) {
  const { document, evaluated, base, preview, commit } = useEditing();
  const { deleteInstallation } = useVehicleChanges();
  const go = useNavigate();
  const [sure, ask] = useState(false);
  return (
    <Sheet
      open={open}
      close={close}
      title={t("Details of this installation")}
      size="md"
      footer={
        sure ? (
          <>
            <Button variant="outline" onClick={() => ask(false)}>
              {t("Cancel")}
            </Button>
            <Button
              colorPalette="red"
              onClick={() =>
                deleteInstallation.mutate({ id: installationId, revision: base.number }, { onSuccess: () => go("/") })
              }
            >
              {t("Put installation and logbook into the bin")}
            </Button>
          </>
        ) : (
          <Button variant="outline" onClick={() => ask(true)}>
            {t("Delete this installation …")}
          </Button>
        )
      }
    >
      <Stack gap={3}>
        {deleteInstallation.error && <Message text={deleteInstallation.error.message} bad />}
        <Entry path="name" />
        <Entry path="purpose" />
        <Entry path="vehicle_kind" />
        <Entry path="sensed_at" />
        <Entry path="speedometer_rule" />
        <Text fontSize="sm" color="fg.muted">
          {evaluated.result.rule_text}
        </Text>
        <CheckSpeeds />
        <Labelled label={t("Notes")}>
          {(said) => (
            <textarea
              {...said}
              className="line"
              rows={4}
              maxLength={2000}
              value={document.notes ?? ""}
              onChange={(event) => preview("notes", event.target.value)}
              onBlur={commit}
            />
          )}
        </Labelled>
      </Stack>
    </Sheet>
  );
}

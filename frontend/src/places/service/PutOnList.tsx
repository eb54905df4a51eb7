import { Box, Flex, Text } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { keys } from "../../api/hooks";
import { refusalOf } from "../../recordings/sending";
import { TextField } from "../../ui/fields";
import { today } from "../../ui/format";
import { Small } from "../../ui/Small";
import { t } from "../../ui/words";
import { useServiceChanges } from "./queries";

const MOST_LETTERS = 240;

/** Put something on the vehicle's list of due items, with a date and a role. */
export function PutOnList({
  vehicle,
  installation,
  text,
  task = null,
}: {
  vehicle: number;
  installation: number;
  text: string;
  task?: number | null;
}) {
  const { addDue } = useServiceChanges(vehicle);
  const client = useQueryClient();
  const [open, setOpen] = useState(false);
  const [on, setOn] = useState(today);
  const [who, setWho] = useState("");
  const [reason, setReason] = useState("");
  if (addDue.isSuccess) return <Text color="fg.muted">{t("✓ On the vehicle's list.")}</Text>;
  if (!open) {
    return (
      <Small
        aria-label={task === null ? t("Add to the list: {0}", text) : t("Postpone: {0}", text)}
        onClick={() => setOpen(true)}
      >
        {task === null ? t("Add to the list") : t("Postpone")}
      </Small>
    );
  }
  return (
    <Flex gap={2} align="end" wrap="wrap" mt={1} data-testid="put-on-list">
      <Box w="170px">
        <TextField label={t("To be done on")} type="date" value={on} change={setOn} />
      </Box>
      <Box w="160px">
        <TextField label={t("For (role)")} value={who} change={setWho} />
      </Box>
      {task !== null && (
        <Box w="200px">
          <TextField label={t("Why")} value={reason} change={setReason} />
        </Box>
      )}
      <Small
        disabled={on === "" || (task !== null && reason.trim() === "") || addDue.isPending}
        onClick={() =>
          addDue.mutate(
            {
              text: text.slice(0, MOST_LETTERS),
              assigned_to: who,
              installation_id: installation,
              task_id: task,
              reason,
              due: { on, at_km: null, at_hours: null, every_months: null, every_km: null, every_hours: null },
            },
            { onSuccess: () => client.invalidateQueries({ queryKey: keys.tasks(installation) }) },
          )
        }
      >
        {t("Add to the list")}
      </Small>
      <Small variant="ghost" onClick={() => setOpen(false)}>
        {t("Cancel")}
      </Small>
      {addDue.error && (
        <Text role="alert" color="bad.fg" fontWeight="600">
          {refusalOf(addDue.error)}
        </Text>
      )}
    </Flex>
  );
}

import { Button, Field, Stack, Textarea } from "@chakra-ui/react";
import { useState } from "react";
import { useNavigate } from "react-router";
import { useYardChanges } from "../../api/hooks";
import { Sheet } from "../../ui/Sheet";
import { useEditing } from "./context";
import { PickField, WordsField } from "./fields";

/** What the fit is called and for, notes, and where it can be deleted. */
export function Details({ fitId, open, close }: { fitId: number; open: boolean; close: () => void }) {
  const { document, catalogue, set } = useEditing();
  const { deleteFit } = useYardChanges();
  const go = useNavigate();
  const [sure, ask] = useState(false);
  return (
    <Sheet
      open={open}
      close={close}
      title="Details of this fit"
      size="md"
      footer={
        sure ? (
          <>
            <Button variant="outline" onClick={() => ask(false)}>
              Keep it
            </Button>
            <Button colorPalette="red" onClick={() => deleteFit.mutate(fitId, { onSuccess: () => go("/") })}>
              Delete it with its logbook
            </Button>
          </>
        ) : (
          <Button variant="outline" onClick={() => ask(true)}>
            Delete this fit …
          </Button>
        )
      }
    >
      <Stack gap={3}>
        <WordsField path="name" label="Name" />
        <PickField path="purpose" label="What it is for" options={catalogue.purposes} />
        <PickField path="vehicle_kind" label="Kind of vehicle" options={catalogue.vehicle_kinds} />
        <Field.Root gap={1}>
          <Field.Label fontSize="sm" color="fg.muted">
            Notes
          </Field.Label>
          <Textarea
            rows={4}
            maxLength={2000}
            value={document.notes ?? ""}
            onChange={(event) => set("notes", event.target.value)}
            bg="bg.subtle"
            borderColor="border.emphasized"
          />
        </Field.Root>
      </Stack>
    </Sheet>
  );
}

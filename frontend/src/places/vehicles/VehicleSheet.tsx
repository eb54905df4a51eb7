import { Button, Stack } from "@chakra-ui/react";
import { useState } from "react";
import { Refusal, type Schemas } from "../../api/client";
import { useCatalogue, useVehicleChanges } from "../../api/hooks";
import { ChoiceField, TextField } from "../../ui/fields";
import { Message } from "../../ui/Message";
import { Sheet } from "../../ui/Sheet";

/** Rename or describe a vehicle. */
export function VehicleSheet({ vehicle, close }: { vehicle: Schemas["VehicleOut"]; close: () => void }) {
  const catalogue = useCatalogue().data;
  const { changeVehicle } = useVehicleChanges();
  const [inputs, set] = useState({ name: vehicle.name, kind: vehicle.kind, note: vehicle.note });
  const error = changeVehicle.error;
  const problems = error instanceof Refusal ? error.problems : [];
  const on = (path: string) => {
    const found = problems.find((problem) => problem.path === path);
    return found && `${found.message} ${found.remedy}`;
  };
  return (
    <Sheet
      open
      close={close}
      title={`Edit ${vehicle.name}`}
      size="md"
      footer={
        <Button
          colorPalette="signal"
          loading={changeVehicle.isPending}
          onClick={() =>
            changeVehicle.mutate(
              { id: vehicle.id, inputs: { ...inputs, base_version: vehicle.version } },
              { onSuccess: close },
            )
          }
        >
          Save
        </Button>
      }
    >
      <Stack gap={3}>
        <TextField
          label="Name"
          value={inputs.name}
          change={(name) => set({ ...inputs, name })}
          error={on("name")}
          testId="edit-name"
        />
        <ChoiceField
          label="Vehicle type"
          value={inputs.kind}
          change={(kind) => set({ ...inputs, kind: kind as typeof inputs.kind })}
          options={catalogue?.vehicle_kinds ?? []}
        />
        <TextField label="Note" value={inputs.note} change={(note) => set({ ...inputs, note })} error={on("note")} />
        {error && problems.length === 0 && <Message text={error.message} bad />}
      </Stack>
    </Sheet>
  );
}

import { Button, Flex, Stack, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Away, Refusal, type Schemas } from "../../api/client";
import { useCatalogue, useVehicleChanges } from "../../api/hooks";
import { ChoiceField, TextField } from "../../ui/fields";
import { chooseInstallationFile } from "../../ui/files";
import { Message } from "../../ui/Message";
import { Sheet } from "../../ui/Sheet";
import { t } from "../../ui/words";
import { choicesAt } from "../installation/schema";

/** Rename or describe a vehicle, import an installation, or delete the vehicle. */
export function VehicleSheet({ vehicle, close }: { vehicle: Schemas["VehicleOut"]; close: () => void }) {
  const catalogue = useCatalogue().data;
  const { changeVehicle, deleteVehicle, addInstallation } = useVehicleChanges();
  const [asking, ask] = useState(false);
  const [refused, refuse] = useState("");
  const [inputs, set] = useState({ name: vehicle.name, kind: vehicle.kind, note: vehicle.note });
  const error = changeVehicle.error;
  const problems = error instanceof Refusal ? error.problems : [];
  const on = (path: string) => {
    const found = problems.find((problem) => problem.path === path);
    return found && `${found.message} ${found.remedy}`;
  };
  const importFile = async () => {
    refuse("");
    try {
      await addInstallation.mutateAsync({ vehicle: vehicle.id, document: await chooseInstallationFile() });
      close();
    } catch (reason) {
      const field = reason instanceof Refusal ? reason.problems[0] : undefined;
      const said = field ? t("This file cannot be used. {0}: {1} {2}", field.path, field.message, field.remedy) : "";
      refuse(said || (reason instanceof Error ? reason.message : new Away().message));
    }
  };
  if (asking)
    return (
      <Sheet
        open
        close={close}
        title={t("Delete {0}?", vehicle.name)}
        size="md"
        footer={
          <>
            <Button variant="outline" onClick={() => ask(false)}>
              {t("Cancel")}
            </Button>
            <Button
              colorPalette="red"
              onClick={() => deleteVehicle.mutate({ id: vehicle.id, version: vehicle.version }, { onSuccess: close })}
            >
              {t("Delete")}
            </Button>
          </>
        }
      >
        {deleteVehicle.error && <Message text={deleteVehicle.error.message} bad />}
        <Text>
          {t(
            "All its installations go into the bin with it, with their logbooks. They can be restored from there for 30 days.",
          )}
        </Text>
      </Sheet>
    );
  return (
    <Sheet
      open
      close={close}
      title={t("Edit {0}", vehicle.name)}
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
          {t("Save")}
        </Button>
      }
    >
      <Stack gap={3}>
        <TextField
          label={t("Name")}
          value={inputs.name}
          change={(name) => set({ ...inputs, name })}
          error={on("name")}
          testId="edit-name"
        />
        <ChoiceField
          label={t("Vehicle type")}
          value={inputs.kind}
          change={(kind) => set({ ...inputs, kind: kind as typeof inputs.kind })}
          options={catalogue ? choicesAt(catalogue, "vehicle_kind") : []}
        />
        <TextField
          label={t("Note")}
          value={inputs.note}
          change={(note) => set({ ...inputs, note })}
          error={on("note")}
        />
        {error && problems.length === 0 && <Message text={error.message} bad />}
        {refused && <Message text={refused} bad />}
        <Flex gap={2} wrap="wrap" borderTopWidth="1px" pt={3}>
          <Button variant="outline" minH="44px" onClick={importFile}>
            {t("Import an installation file")}
          </Button>
          <Button variant="outline" minH="44px" ml="auto" color="bad.fg" onClick={() => ask(true)}>
            {t("Delete this vehicle …")}
          </Button>
        </Flex>
      </Stack>
    </Sheet>
  );
}

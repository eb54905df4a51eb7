import { Button, Stack, Text } from "@chakra-ui/react";
import { useState } from "react";
import { useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { useCatalogue, useVehicleChanges, useVehicleNames } from "../../api/hooks";
import { ChoiceField, TextField } from "../../ui/fields";
import { Message } from "../../ui/Message";
import { Sheet } from "../../ui/Sheet";
import { t } from "../../ui/words";
import { choicesAt } from "../installation/schema";

type Copied = { installation: Schemas["InstallationSummary"]; vehicleId: number };

/** The same installation at another corner, or on another vehicle. */
export function CopySheet({ installation, vehicleId, close }: Copied & { close: () => void }) {
  const catalogue = useCatalogue().data;
  const vehicles = useVehicleNames().data ?? [];
  const { copyInstallation } = useVehicleChanges();
  const go = useNavigate();
  const [vehicle, chooseVehicle] = useState(vehicleId);
  const [place, choosePlace] = useState<Schemas["CopyIn"]["sensed_at"]>("not_stated");
  const [typed, type] = useState<string | null>(null);
  const kind = vehicles.find((item) => item.id === vehicle)?.kind;
  const able: string[] = catalogue?.starts.find((item) => item.vehicle_kind === kind)?.places ?? [];
  const places = catalogue ? choicesAt(catalogue, "sensed_at").filter((item) => able.includes(item.code)) : [];
  const where = place === "not_stated" ? "copy" : places.find((item) => item.code === place)?.label.toLowerCase();
  const name = typed ?? `${installation.name}, ${where}`;
  const make = () =>
    copyInstallation.mutate(
      { id: installation.id, vehicle, name, sensed_at: place },
      { onSuccess: (made) => go(`/installation/${made.id}/wheel`, { replace: true }) },
    );
  return (
    <Sheet
      open
      close={close}
      title={t("Copy “{0}”", installation.name)}
      size="md"
      footer={
        <>
          <Button variant="outline" onClick={close}>
            {t("Cancel")}
          </Button>
          <Button colorPalette="signal" onClick={make} loading={copyInstallation.isPending} disabled={!name.trim()}>
            {t("Make the copy")}
          </Button>
        </>
      }
    >
      <Stack gap={3}>
        <ChoiceField
          label={t("Vehicle")}
          value={String(vehicle)}
          change={(id) => {
            chooseVehicle(Number(id));
            choosePlace("not_stated");
          }}
          options={vehicles.map((item) => ({ code: String(item.id), label: item.name }))}
          testId="copy-vehicle"
        />
        <ChoiceField
          label={t("Sensed wheel or axle")}
          value={place}
          change={(code) => choosePlace(code as typeof place)}
          options={places}
          testId="copy-place"
        />
        <TextField label={t("Name")} value={name} change={type} testId="copy-name" />
        <Text fontSize="sm" color="fg.muted">
          {t(
            "Size marking, count, ratio, sensor, planned placement, wiring and setting formats are copied. Measurements, tests and settings read back are not: they belong to the original.",
          )}
        </Text>
        {copyInstallation.error && <Message text={copyInstallation.error.message} bad />}
      </Stack>
    </Sheet>
  );
}

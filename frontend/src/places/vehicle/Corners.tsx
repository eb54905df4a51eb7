import { Box, chakra, Flex, Grid, Heading, Text } from "@chakra-ui/react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import { api, data, Refusal, type Schemas } from "../../api/client";
import { keys, useCatalogue, useSession, useWrite } from "../../api/hooks";
import { refusalOf } from "../../recordings/sending";
import { ChoiceField, TextField } from "../../ui/fields";
import { fixed } from "../../ui/format";
import { Pending } from "../../ui/Pending";
import { Small } from "../../ui/Small";
import { useHeld } from "../../ui/useHeld";
import { listed, t } from "../../ui/words";
import { labelAt } from "../installation/schema";

const Jump = chakra(Link);
type Corner = Schemas["Corner"];
type Typed = { count?: string; air_gap_mm?: string; resistance_ohm?: string; outcome?: string };
const OUTCOMES = [
  { code: "", label: t("Not spun") },
  { code: "agreed", label: t("Spin test agreed") },
  { code: "differed", label: t("Spin test differed") },
  { code: "nothing", label: t("Nothing shown") },
];
const FIELDS = ["count", "air_gap_mm", "resistance_ohm"] as const;
const HEADS = { count: t("Count"), air_gap_mm: t("Air gap"), resistance_ohm: t("Resistance") };

/** The corners that a controller compares, in one table, filled at once. */
export function Corners({ vehicle }: { vehicle: number }) {
  const client = useQueryClient();
  const catalogue = useCatalogue().data;
  const role = useSession().data?.role ?? "";
  const path = { vehicle_id: vehicle };
  const found = useQuery({
    queryKey: ["corners", vehicle],
    queryFn: ({ signal }) => data(api.GET("/api/vehicles/{vehicle_id}/corners", { params: { path }, signal })),
  });
  const corners = found.data?.corners ?? [];
  const [typed, type, drop] = useHeld<Record<string, Typed>>(`corners ${vehicle}`, {});
  const [saved, say] = useState(false);
  const save = useWrite(
    (rows: Record<string, Typed>, header) =>
      data(
        api.PUT("/api/vehicles/{vehicle_id}/corners", {
          params: { path, header },
          body: {
            by: role,
            corners: Object.entries(rows).map(([id, row]) => ({
              installation: Number(id),
              base_revision: corners.find((corner) => corner.installation === Number(id))?.revision ?? 0,
              found: Object.fromEntries(Object.entries(row).filter(([, value]) => value.trim() !== "")) as never,
            })),
          },
        }),
      ),
    (answer) => {
      client.setQueryData(["corners", vehicle], answer);
      client.invalidateQueries({ queryKey: keys.sheet(vehicle) });
      client.invalidateQueries({ queryKey: ["installation"] });
      drop();
      say(true);
    },
  );
  const stale = save.error instanceof Refusal && save.error.status === 409;
  useEffect(() => {
    if (stale) client.invalidateQueries({ queryKey: ["corners", vehicle] }); // what was typed stays
  }, [stale, client, vehicle]);
  if (!found.data && found.failureReason) return <Pending asked={found} text={t("Opening …")} />;
  if (!catalogue || corners.length === 0) return null; // without it a corner has no name to press
  const change = (corner: Corner, some: Typed) => {
    say(false);
    type({ ...typed, [corner.installation]: { ...typed[corner.installation], ...some } });
  };
  const known = (corner: Corner): Record<(typeof FIELDS)[number], string> => ({
    count: listed(corner.count, !corner.counted && t("not counted")),
    air_gap_mm: corner.air_gap_mm == null ? "" : `${fixed(corner.air_gap_mm, 2)} mm`,
    resistance_ohm: corner.resistance_ohm == null ? "" : `${corner.resistance_ohm} Ω`,
  });
  return (
    <Box bg="bg.panel" px={4} py={3} borderRadius="md" data-testid="corners">
      <Heading as="h2" size="md" mb={1}>
        {t("Corners")}
      </Heading>
      <Text fontSize="sm" color="fg.muted" mb={2}>
        {corners.length > 1
          ? t("Enter what you find, at as many corners as you look at; one press keeps all of it.")
          : t(
              "The controller compares wheels: copy this installation to its other corners, and they stand here side by side.",
            )}
      </Text>
      {corners.map((corner) => {
        const now = known(corner);
        const mine = typed[corner.installation] ?? {};
        const place = labelAt(catalogue, "sensed_at", corner.sensed_at);
        const where = corner.sensed_at === "not_stated" ? corner.name : place;
        const limits = { count: corner.accepted, air_gap_mm: corner.permitted_gap, resistance_ohm: "" };
        return (
          <Grid
            key={corner.installation}
            role="group"
            aria-label={where}
            templateColumns={{ base: "repeat(2, minmax(0, 1fr))", md: "1.5fr repeat(4, minmax(0, 1fr))" }}
            gap={3}
            py={2}
            borderTopWidth="1px"
            alignItems="start"
            data-testid={`corner-${corner.installation}`}
          >
            <Box gridColumn={{ base: "1 / -1", md: "auto" }}>
              <Jump
                to={`/installation/${corner.installation}`}
                color="signal.fg"
                textDecoration="underline"
                display="inline-block"
                py={2}
              >
                {where}
              </Jump>
              {corner.wrong.map((text) => (
                <Text key={text} fontSize="sm" color="bad.fg">
                  ✕ {text}
                </Text>
              ))}
            </Box>
            {FIELDS.map((name) => (
              <TextField
                key={name}
                label={HEADS[name]}
                value={mine[name] ?? ""}
                usual={now[name]}
                hint={limits[name]}
                change={(value) => change(corner, { [name]: value })}
                numeric
                testId={`corner-${corner.installation}-${name}`}
              />
            ))}
            <ChoiceField
              label={t("Result")}
              value={mine.outcome ?? corner.outcome ?? ""}
              change={(outcome) => change(corner, { outcome })}
              options={OUTCOMES}
              testId={`corner-${corner.installation}-outcome`}
            />
          </Grid>
        );
      })}
      <Flex gap={3} mt={2} align="center" wrap="wrap">
        <Small
          colorPalette="signal"
          variant="solid"
          disabled={Object.keys(typed).length === 0 || save.isPending}
          onClick={() => save.mutate(typed)}
        >
          {t("Keep all corners")}
        </Small>
        {saved && <Text role="status">{t("✓ Kept")}</Text>}
        {save.error && (
          <Text role="alert" color="bad.fg" fontWeight="600">
            {stale
              ? t("Somebody changed a corner meanwhile: look at it, then keep yours once more.")
              : refusalOf(save.error)}
          </Text>
        )}
      </Flex>
    </Box>
  );
}

import { Box, Flex, Grid, Heading, Stack, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import { numberIn } from "../../recordings/answers/shared";
import { refusalOf } from "../../recordings/sending";
import { Frame } from "../../ui/Frame";
import { ChoiceField, TextField } from "../../ui/fields";
import { Line, Small, without } from "../../ui/Small";
import { Tick } from "../../ui/Tick";
import { useHeld } from "../../ui/useHeld";
import { t } from "../../ui/words";

type Job = Schemas["OwnJob"];
type OwnStep = Job["steps"][number];
const TEMPLATES = ["templates"] as const;
const KINDS: { code: NonNullable<OwnStep["kind"]>; label: string }[] = [
  { code: "tick", label: t("Task") },
  { code: "decide", label: t("Check: yes or no") },
  { code: "torque", label: t("Torque") },
  { code: "photo", label: t("Photo") },
  { code: "timer", label: t("Timer") },
];
const EMPTY: OwnStep = { text: "", kind: "tick", part: "", safety: false, stop: "", second: false, seconds: 0 };

/** The workshop's own jobs: written here, offered beside those that ship. */
export default function TemplatesPlace() {
  const client = useQueryClient();
  const found = useQuery({
    queryKey: TEMPLATES,
    queryFn: ({ signal }) => data(api.GET("/api/templates", { signal })),
  });
  const [open, edit] = useHeld<{ id: number | null; version: number; job: Job } | null>("own job", null);
  const again = () => client.invalidateQueries({ queryKey: TEMPLATES });
  const save = useMutation({
    meta: { what: t("Saving the job") },
    mutationFn: ({ id, version, job }: NonNullable<typeof open>) =>
      id === null
        ? data(api.POST("/api/templates", { body: { job, base_version: 0 } }))
        : data(
            api.PUT("/api/templates/{item_id}", {
              params: { path: { item_id: id } },
              body: { job, base_version: version },
            }),
          ),
    onSuccess: () => {
      again();
      edit(null);
    },
  });
  const remove = useMutation({
    meta: { what: t("Removing the job") },
    mutationFn: (id: number) => data(api.DELETE("/api/templates/{item_id}", { params: { path: { item_id: id } } })),
    onSuccess: again,
  });
  const change = (some: Partial<Job>) => open && edit({ ...open, job: { ...open.job, ...some } });
  const step = (place: number, some: Partial<OwnStep>) =>
    open && change({ steps: open.job.steps.map((item, at) => (at === place ? { ...item, ...some } : item)) });
  return (
    <Frame title={t("The workshop's own jobs")}>
      <Box px={{ base: 3, md: 4 }} pb={8} w="100%" maxW="860px" mx="auto">
        <Heading as="h1" size="2xl" py={3}>
          {t("The workshop's own jobs")}
        </Heading>
        <Stack gap={2} data-testid="templates">
          {found.data?.length === 0 && <Text color="fg.muted">{t("None yet.")}</Text>}
          {found.data?.map((item) => (
            <Flex key={item.id} bg="bg.panel" borderRadius="md" px={4} py={2} gap={3} align="center" wrap="wrap">
              <Text flex="1" minW="160px" fontWeight="600">
                {t("{0}, {1} steps", item.job.title, item.job.steps.length)}
              </Text>
              <Small onClick={() => edit({ id: item.id, version: item.version, job: item.job })}>{t("Change")}</Small>
              <Small
                variant="ghost"
                aria-label={t("Remove {0}", item.job.title)}
                onClick={() => remove.mutate(item.id)}
              >
                ✕
              </Small>
            </Flex>
          ))}
        </Stack>
        {!open && (
          <Small mt={3} onClick={() => edit({ id: null, version: 0, job: { title: "", needs: "", steps: [EMPTY] } })}>
            {t("Write a new job")}
          </Small>
        )}
        {open && (
          <Stack gap={3} mt={4} data-testid="template">
            <TextField label={t("Title")} value={open.job.title} change={(title) => change({ title })} />
            <TextField
              label={t("Tools and parts")}
              value={open.job.needs ?? ""}
              change={(needs) => change({ needs })}
            />
            {open.job.steps.map((item, place) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: a step is its place
              <Box key={place} bg="bg.panel" borderRadius="md" p={3}>
                <Line what={t("step {0}", place + 1)} remove={() => change({ steps: without(open.job.steps, place) })}>
                  <Box flex="1">
                    <TextField
                      label={t("Step {0}", place + 1)}
                      value={item.text}
                      change={(text) => step(place, { text })}
                      testId={`own-${place}`}
                    />
                  </Box>
                </Line>
                <Grid templateColumns="repeat(auto-fit, minmax(150px, 1fr))" gap={3} mt={2}>
                  <ChoiceField
                    label={t("How")}
                    value={item.kind ?? "tick"}
                    change={(code) => step(place, { kind: code as OwnStep["kind"] })}
                    options={KINDS}
                    testId={`own-kind-${place}`}
                  />
                  <TextField label={t("Heading")} value={item.part ?? ""} change={(part) => step(place, { part })} />
                  {item.kind === "decide" && (
                    <TextField
                      label={t("Stop: what follows a no")}
                      value={item.stop ?? ""}
                      change={(stop) => step(place, { stop })}
                    />
                  )}
                  {item.kind === "timer" && (
                    <TextField
                      label={t("Time")}
                      unit="s"
                      numeric
                      value={item.seconds ? String(item.seconds) : ""}
                      change={(typed) => step(place, { seconds: numberIn(typed) ?? 0 })}
                    />
                  )}
                </Grid>
                <Tick checked={item.safety ?? false} toggle={() => step(place, { safety: !item.safety })}>
                  {t("It protects people: skipped only with a written reason")}
                </Tick>
                <Tick checked={item.second ?? false} toggle={() => step(place, { second: !item.second })}>
                  {t("A second person checks it")}
                </Tick>
              </Box>
            ))}
            <Flex gap={2} wrap="wrap">
              <Small onClick={() => change({ steps: [...open.job.steps, EMPTY] })}>{t("Add a step")}</Small>
              <Small colorPalette="signal" variant="solid" onClick={() => save.mutate(open)} disabled={save.isPending}>
                {t("Save")}
              </Small>
              <Small variant="ghost" onClick={() => edit(null)}>
                {t("Cancel")}
              </Small>
            </Flex>
            {save.error && (
              <Text role="alert" color="bad.fg" fontWeight="600">
                {refusalOf(save.error)}
              </Text>
            )}
          </Stack>
        )}
      </Box>
    </Frame>
  );
}

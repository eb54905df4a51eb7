import { Box, Flex, Grid, Heading, Stack, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import { numberIn } from "../../recordings/answers/shared";
import { refusalOf } from "../../recordings/sending";
import { Frame } from "../../ui/Frame";
import { ChoiceField, TextField } from "../../ui/fields";
import { Pending } from "../../ui/Pending";
import { Remove } from "../../ui/Remove";
import { Small, without } from "../../ui/Small";
import { Tick } from "../../ui/Tick";
import { useHeld } from "../../ui/useHeld";
import { t } from "../../ui/words";

type Job = Schemas["OwnJob"];
type OwnStep = Job["steps"][number];
type BuiltIn = Schemas["BuiltInJob"];
const TEMPLATES = ["templates"] as const;
const BUILT_IN = ["built-in"] as const;
const KINDS: { code: NonNullable<OwnStep["kind"]>; label: string }[] = [
  { code: "tick", label: t("Task") },
  { code: "decide", label: t("Check: yes or no") },
  { code: "torque", label: t("Torque") },
  { code: "photo", label: t("Photo") },
  { code: "timer", label: t("Timer") },
];
const EMPTY: OwnStep = {
  like: "",
  text: "",
  kind: "tick",
  part: "",
  safety: false,
  stop: "",
  second: false,
  seconds: 0,
};

/** A built-in job as one of our own. */
const copied = (job: BuiltIn): Job => ({
  like: job.code,
  title: job.title,
  needs: job.needs,
  steps: job.steps.map((step) => ({ ...EMPTY, like: step.code })),
});

/** A list with one item a place further up or down. */
function moved<T>(list: readonly T[], place: number, by: number): T[] {
  const rest = without(list, place);
  const item = list[place] as T;
  return [...rest.slice(0, place + by), item, ...rest.slice(place + by)];
}

/** The workshop's own jobs: written here, offered beside those that ship. */
export default function TemplatesPlace() {
  const client = useQueryClient();
  const found = useQuery({
    queryKey: TEMPLATES,
    queryFn: ({ signal }) => data(api.GET("/api/templates", { signal })),
  });
  const builtIn = useQuery({
    queryKey: BUILT_IN,
    queryFn: ({ signal }) => data(api.GET("/api/templates/built-in", { signal })),
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
  const base = builtIn.data?.find((item) => item.code === open?.job.like);
  const leftOut = (base?.steps ?? []).filter(
    (known) => known.safety && !open?.job.steps.some((item) => item.like === known.code),
  );
  return (
    <Frame title={t("The workshop's own jobs")}>
      <Box px={{ base: 3, md: 4 }} pb={8} w="100%" maxW="860px" mx="auto">
        <Heading as="h1" size="2xl" py={3}>
          {t("The workshop's own jobs")}
        </Heading>
        <Stack gap={2} data-testid="templates">
          {!found.data && <Pending asked={found} text={t("Opening …")} />}
          {found.data?.length === 0 && <Text color="fg.muted">{t("None yet.")}</Text>}
          {found.data?.map((item) => (
            <Flex key={item.id} bg="bg.panel" borderRadius="md" px={4} py={2} gap={3} align="center" wrap="wrap">
              <Text flex="1" minW="160px" fontWeight="600">
                {t("{0}, steps: {1}", item.job.title, item.job.steps.length)}
              </Text>
              <Small onClick={() => edit({ id: item.id, version: item.version, job: item.job })}>{t("Change")}</Small>
              <Remove what={item.job.title} act={() => remove.mutate(item.id)} busy={remove.isPending} />
            </Flex>
          ))}
        </Stack>
        {!open && (
          <>
            <Small
              mt={3}
              onClick={() => edit({ id: null, version: 0, job: { like: "", title: "", needs: "", steps: [EMPTY] } })}
            >
              {t("Write a new job")}
            </Small>
            <Heading as="h2" size="md" mt={6} mb={2}>
              {t("Copy a built-in job and change it")}
            </Heading>
            <Flex gap={2} wrap="wrap" data-testid="built-in">
              {!builtIn.data && <Pending asked={builtIn} text={t("Opening …")} />}
              {builtIn.data?.map((item) => (
                <Small
                  key={item.code}
                  aria-label={t("Copy {0}", item.title)}
                  onClick={() => edit({ id: null, version: 0, job: copied(item) })}
                >
                  {item.title}
                </Small>
              ))}
            </Flex>
          </>
        )}
        {open && (
          <Stack gap={3} mt={4} data-testid="template">
            <TextField label={t("Title")} value={open.job.title} change={(title) => change({ title })} />
            <TextField
              label={t("Tools and parts")}
              value={open.job.needs ?? ""}
              change={(needs) => change({ needs })}
            />
            {base && (
              <Text fontSize="sm" color="fg.muted">
                {t(
                  "Built-in steps keep their caution, check and measurement. Names in braces are filled in from the installation.",
                )}
              </Text>
            )}
            {leftOut.length > 0 && (
              <Text role="alert" color="signal.fg" data-testid="left-out">
                {t("! Left out, though it protects people: {0}", leftOut.map((item) => item.example).join(" · "))}
              </Text>
            )}
            {open.job.steps.map((item, place) => (
              <OwnStepForm
                // biome-ignore lint/suspicious/noArrayIndexKey: a step is its place
                key={place}
                place={place}
                last={open.job.steps.length - 1}
                item={item}
                base={base?.steps.find((known) => known.code === item.like)}
                change={(some) => step(place, some)}
                remove={() => change({ steps: without(open.job.steps, place) })}
                move={(by) => change({ steps: moved(open.job.steps, place, by) })}
              />
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

type OwnStepProps = {
  place: number;
  last: number;
  item: OwnStep;
  base: BuiltIn["steps"][number] | undefined;
  change: (some: Partial<OwnStep>) => void;
  remove: () => void;
  move: (by: number) => void;
};

/** One step: written, or as built in, with other words or not. */
function OwnStepForm({ place, last, item, base, change, remove, move }: OwnStepProps) {
  const what = t("step {0}", place + 1);
  const asBuiltIn = base && !item.text;
  return (
    <Box bg="bg.panel" borderRadius="md" p={3} data-testid={`own-step-${place}`}>
      <Flex gap={2} align="center" wrap="wrap" justify="flex-end">
        <Box flex="1" minW="220px">
          {asBuiltIn ? (
            <Text>
              <b>{place + 1}.</b> {base.example}
              {base.safety && (
                <Text as="span" display="block" fontSize="sm" color="signal.fg">
                  {t("! protects people")}
                </Text>
              )}
            </Text>
          ) : (
            <TextField
              label={t("Step {0}", place + 1)}
              value={item.text ?? ""}
              change={(text) => change({ text })}
              testId={`own-${place}`}
            />
          )}
        </Box>
        <Flex gap={2}>
          {asBuiltIn && (
            <Small aria-label={t("Change the words of {0}", what)} onClick={() => change({ text: base.text })}>
              {t("Change")}
            </Small>
          )}
          <Small aria-label={t("Move {0} up", what)} onClick={() => move(-1)} disabled={place === 0}>
            ↑
          </Small>
          <Small aria-label={t("Move {0} down", what)} onClick={() => move(1)} disabled={place === last}>
            ↓
          </Small>
          <Small aria-label={t("Remove {0}", what)} onClick={remove}>
            ✕
          </Small>
        </Flex>
      </Flex>
      {!base && (
        <Grid templateColumns="repeat(auto-fit, minmax(150px, 1fr))" gap={3} mt={2}>
          <ChoiceField
            label={t("How")}
            value={item.kind ?? "tick"}
            change={(code) => change({ kind: code as OwnStep["kind"] })}
            options={KINDS}
            testId={`own-kind-${place}`}
          />
          <TextField label={t("Heading")} value={item.part ?? ""} change={(part) => change({ part })} />
          {item.kind === "decide" && (
            <TextField
              label={t("Stop: what follows a no")}
              value={item.stop ?? ""}
              change={(stop) => change({ stop })}
            />
          )}
          {item.kind === "timer" && (
            <TextField
              label={t("Time")}
              unit="s"
              numeric
              value={item.seconds ? String(item.seconds) : ""}
              change={(typed) => change({ seconds: numberIn(typed) ?? 0 })}
            />
          )}
        </Grid>
      )}
      {!asBuiltIn && !base?.safety && (
        <Tick checked={item.safety ?? false} toggle={() => change({ safety: !item.safety })}>
          {t("It protects people: skipped only with a written reason")}
        </Tick>
      )}
      {!asBuiltIn && !base?.second && (
        <Tick checked={item.second ?? false} toggle={() => change({ second: !item.second })}>
          {t("A second person checks it")}
        </Tick>
      )}
    </Box>
  );
}

import { Box, chakra, Flex, Grid, Heading, Stack, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import type { Schemas } from "../../api/client";
import { useJobs, useStartSheet } from "../../jobs/useSheet";
import { refusalOf } from "../../recordings/sending";
import { Frame } from "../../ui/Frame";
import { ChoiceField, TextField } from "../../ui/fields";
import { fixed, today, when } from "../../ui/format";
import { Message } from "../../ui/Message";
import { Remove } from "../../ui/Remove";
import { Small } from "../../ui/Small";
import { UnitsOfVehicle } from "../../ui/units";
import { useHeld } from "../../ui/useHeld";
import { listed, t } from "../../ui/words";
import { Causes } from "./Causes";
import { NextTest } from "./NextTest";
import { type Fault, useFault, useFaultChanges } from "./queries";

const Go = chakra(Link);

/** The search for a cause: the next test, the causes with their reasons, what was done, and the cure. */
export default function FaultPlace() {
  const id = Number(useParams().id);
  const fault = useFault(id);
  if (!fault.data)
    return (
      <Frame>
        <Message text={fault.error ? fault.error.message : t("Opening the fault …")} back={Boolean(fault.error)} />
      </Frame>
    );
  return (
    <UnitsOfVehicle vehicle={fault.data.vehicle_id} afloat={fault.data.on_water}>
      <Found found={fault.data} />
    </UnitsOfVehicle>
  );
}

function Found({ found }: { found: Fault }) {
  return (
    <Frame title={t("Find a fault")}>
      <Box px={{ base: 3, md: 4 }} pb={10} w="100%" maxW="1180px" mx="auto">
        <Heading as="h1" size="xl" pt={2}>
          {found.noticed.join(", ")}
        </Heading>
        <Flex gap={3} align="baseline" wrap="wrap">
          <Go to={`/installation/${found.installation}`} textDecoration="underline" color="signal.fg" py={1}>
            {t("{0} / {1}, revision {2}", found.vehicle, found.name, found.revision)}
          </Go>
          <Text fontSize="sm" color="fg.muted">
            {t("opened {0} by {1}", when(found.created_at), found.by)}
          </Text>
        </Flex>
        {found.closed_at ? (
          <Message text={found.closed_text} />
        ) : (
          <Box data-testid="fault-state" data-state={found.view.state}>
            {found.view.text && (
              <Text fontSize="lg" fontWeight="700" mt={2}>
                {found.view.state === "found" ? "✓ " : found.view.state === "open" ? "" : "! "}
                {found.view.text} {found.view.action}
              </Text>
            )}
          </Box>
        )}
        <Grid
          templateColumns={{ base: "minmax(0, 1fr)", lg: "minmax(0, 1fr) minmax(0, 1fr)" }}
          gap={5}
          mt={3}
          alignItems="start"
        >
          <Stack gap={4}>
            {!found.closed_at && <Way fault={found} />}
            <Done fault={found} />
          </Stack>
          <Causes fault={found} />
        </Grid>
      </Box>
    </Frame>
  );
}

/** The way on: the cure where a cause is found, the next test where none is. */
function Way({ fault }: { fault: Fault }) {
  const { view } = fault;
  const [other, choose] = useState("");
  const chosen = view.tests.find((test) => test.code === other) ?? view.tests[0];
  const cures = view.state === "found" || view.state === "exhausted";
  return (
    <Stack gap={4}>
      {cures && <Cure fault={fault} />}
      {chosen && (
        <Box as="section" aria-label={t("Next test")} data-testid="next-test">
          <Heading as="h2" size="lg" mb={2}>
            {view.state === "found" ? t("To be more certain") : t("Next test")}
          </Heading>
          <NextTest key={chosen.code} fault={fault} test={chosen} />
          {view.tests.length > 1 && (
            <Flex gap={2} wrap="wrap" mt={2} align="center">
              <Text fontSize="sm" color="fg.muted">
                {t("Or:")}
              </Text>
              {view.tests
                .filter((test) => test.code !== chosen.code)
                .map((test) => (
                  <Small key={test.code} textAlign="start" onClick={() => choose(test.code)}>
                    {t("{0}, {1} min", test.title, fixed(test.minutes, 0))}
                  </Small>
                ))}
            </Flex>
          )}
        </Box>
      )}
      {view.fixed && view.fixed.code !== chosen?.code && (
        <details data-testid="fixed-order">
          <summary style={{ cursor: "pointer", minHeight: 44, paddingTop: 10 }}>
            {t("Next in the practised order: {0}", view.fixed.title)}
          </summary>
          <NextTest key={view.fixed.code} fault={fault} test={view.fixed} />
        </details>
      )}
      <Close fault={fault} />
    </Stack>
  );
}

/** What cures the first cause, its sheet and the retest that proves it. */
function Cure({ fault }: { fault: Fault }) {
  const { answer } = useFaultChanges(fault);
  const start = useStartSheet(fault.installation);
  const offers = useJobs(fault.installation).data?.offers;
  const cause = fault.view.causes[0];
  if (!cause) return null;
  const offered = offers?.find((offer) => offer.template === cause.job);
  const tried = (outcome: string) => answer.mutate({ key: crypto.randomUUID(), test: `cure:${cause.code}`, outcome });
  return (
    <Box bg="bg.panel" borderRadius="md" p={4} borderLeftWidth="4px" borderColor="signal.fg" data-testid="cure">
      <Heading as="h2" size="lg">
        {t("Cure: {0}", cause.fix)}
      </Heading>
      <Text mt={1}>{t("Then verify. {0}", cause.retest)}</Text>
      <Flex gap={2} wrap="wrap" mt={3}>
        {offered && (
          <Small disabled={start.isPending} onClick={() => start.mutate(offered.template)}>
            {t("Start the job sheet: {0}", offered.title)}
          </Small>
        )}
        <Small asChild>
          <Link to={`/installation/${fault.installation}/${cause.stage}`}>{t("Open the stage")}</Link>
        </Small>
        <Small disabled={answer.isPending} onClick={() => tried("cured")}>
          {t("Retest passed: cured")}
        </Small>
        <Small disabled={answer.isPending} onClick={() => tried("same")}>
          {t("No change")}
        </Small>
      </Flex>
    </Box>
  );
}

/** What was done so far; what fits badly is marked. */
function Done({ fault }: { fault: Fault }) {
  const { done, minutes } = fault.view;
  if (done.length === 0) return null;
  return (
    <Box data-testid="done">
      <Heading as="h2" size="md" mb={1}>
        {t("Done so far, {0} min", fixed(minutes, 0))}
      </Heading>
      <Stack as="ol" gap={1} listStyleType="none">
        {done.map((item) => (
          <Text as="li" key={item.test}>
            {item.title}: <b>{item.outcome}</b> <Who fault={fault} test={item.test} />{" "}
            {item.doubtful && (
              <Text as="span" color="signal.fg">
                {t("! fits badly: repeat it")}
              </Text>
            )}
          </Text>
        ))}
      </Stack>
    </Box>
  );
}

/** By whom and when a test was answered. */
function Who({ fault, test }: { fault: Fault; test: string }) {
  const entry = fault.answers.findLast((item) => item.test === test);
  if (!entry) return null;
  return (
    <Text as="span" fontSize="sm" color="fg.muted">
      {listed(entry.by, when(entry.at), entry.revision !== null && t("recorded in revision {0}", entry.revision))}
    </Text>
  );
}

/** Close the fault with its cause, or with what it was otherwise. */
function Close({ fault }: { fault: Fault }) {
  const { close, remove } = useFaultChanges(fault);
  const go = useNavigate();
  const [held, set, drop] = useHeld(`close ${fault.id}`, { cause: "", remark: "", retest: "", part: "", name: "" });
  const cured = fault.view.done.some((item) => item.test === `cure:${fault.view.causes[0]?.code}`);
  const cause = held.cause || fault.view.causes[0]?.code || "other";
  const known = fault.view.causes.find((item) => item.code === cause);
  const part = held.part || known?.replaces || "none";
  const label = fault.part_kinds.find((kind) => kind.code === part)?.label ?? "";
  const retest = held.retest || (cured ? "agreed" : "none");
  const body: Schemas["CloseIn"] = {
    cause,
    remark: held.remark,
    retest: retest === "agreed" ? "agreed" : "none",
    part:
      part === "none"
        ? null
        : {
            kind: part as Schemas["FittedPartInput"]["kind"],
            name: held.name || label,
            supplier: "",
            supplier_number: "",
            pins: "",
            fitted_on: today(),
            removed_on: null,
            note: known?.text.slice(0, 240) ?? "",
          },
  };
  return (
    <details open={cured} data-testid="close-fault">
      <summary style={{ cursor: "pointer", minHeight: 44, paddingTop: 10 }}>{t("Close the fault")}</summary>
      <Grid templateColumns={{ base: "minmax(0, 1fr)", md: "repeat(2, minmax(0, 1fr))" }} gap={3}>
        <ChoiceField
          label={t("Cause")}
          value={cause}
          change={(code) => set({ ...held, cause: code })}
          options={[
            ...fault.view.causes.map((item) => ({ code: item.code, label: item.text })),
            { code: "other", label: t("Something else") },
          ]}
          testId="close-cause"
        />
        <ChoiceField
          label={t("Retest")}
          value={retest}
          change={(code) => set({ ...held, retest: code })}
          options={[
            { code: "agreed", label: t("The retest agreed") },
            { code: "none", label: t("No retest was made") },
          ]}
          hint={known?.retest}
          testId="close-retest"
        />
        <ChoiceField
          label={t("Replaced")}
          value={part}
          change={(code) => set({ ...held, part: code })}
          options={[{ code: "none", label: t("Nothing was replaced") }, ...fault.part_kinds]}
          testId="close-part"
        />
        {part !== "none" && (
          <TextField
            label={t("New part, by name")}
            value={held.name}
            usual={label}
            change={(name) => set({ ...held, name })}
            testId="close-part-name"
          />
        )}
        <TextField
          label={t("Remark")}
          value={held.remark}
          change={(remark) => set({ ...held, remark })}
          testId="close-remark"
        />
      </Grid>
      <Flex gap={2} mt={2} wrap="wrap" align="center">
        <Small disabled={close.isPending} onClick={() => close.mutate(body, { onSuccess: () => drop() })}>
          {t("Close with this cause")}
        </Small>
        <Remove
          what={t("this fault")}
          label={t("Delete this fault")}
          act={() => remove.mutate(undefined, { onSuccess: () => go(`/installation/${fault.installation}/faults`) })}
          busy={remove.isPending}
        />
        {close.error && (
          <Text role="alert" color="bad.fg" fontWeight="600">
            {refusalOf(close.error)}
          </Text>
        )}
      </Flex>
    </details>
  );
}

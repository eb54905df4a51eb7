import { Box, Button, chakra, Flex, Heading, Stack, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Fragment } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { api, data } from "../../api/client";
import { useSession } from "../../api/hooks";
import type { JobSheet } from "../../jobs/queue";
import { useKeptHere } from "../../jobs/useKeptHere";
import { fetchSheetPdf, jobKeys, type Line, useSheet } from "../../jobs/useSheet";
import { Download } from "../../ui/Download";
import { Frame } from "../../ui/Frame";
import { TextField } from "../../ui/fields";
import { when } from "../../ui/format";
import { Message } from "../../ui/Message";
import { Remove } from "../../ui/Remove";
import { Small } from "../../ui/Small";
import { UnitsOfVehicle } from "../../ui/units";
import { useHeld } from "../../ui/useHeld";
import { t } from "../../ui/words";
import { Step } from "./Step";

const Go = chakra(Link);

/** A job sheet: its steps one after the other, done under the car with a phone; it works without network. */
export default function SheetPlace() {
  const id = Number(useParams().id);
  const sheet = useSheet(id);
  const keptHere = useKeptHere(id);
  const session = useSession().data;
  const [by, setBy] = useHeld<string | null>(`by ${id}`, null);
  if (!sheet.data)
    return (
      <Frame>
        <Message text={sheet.error ? sheet.error.message : t("Opening the sheet …")} back={Boolean(sheet.error)} />
      </Frame>
    );
  const found = sheet.data;
  const role = by ?? session?.role ?? "";
  const open = !found.signed_at;
  const waitingValues = new Map(
    sheet.waiting.flatMap((item): [string, string][] =>
      "entry" in item && !item.refused && item.entry.what === "done" ? [[item.entry.step, item.entry.value ?? ""]] : [],
    ),
  );
  const settled = found.records.filter((record) => record.state === "done" || record.state === "skipped").length;
  return (
    <UnitsOfVehicle vehicle={found.vehicle_id} afloat={found.afloat}>
      <Frame title={found.title}>
        <Box px={{ base: 3, md: 4 }} pb={10} w="100%" maxW="720px" mx="auto">
          <Heading as="h1" size="xl" pt={2}>
            {found.title}
          </Heading>
          <Go
            to={`/installation/${found.installation}`}
            textDecoration="underline"
            color="signal.fg"
            py={1}
            display="inline-block"
          >
            {t("{0} / {1}, revision {2}", found.vehicle, found.name, found.revision)}
          </Go>
          <Text fontSize="sm" color="fg.muted">
            {t("Tools and parts: {0}", found.needs)}
          </Text>
          <Box position="sticky" top={0} bg="bg" zIndex={1} py={2}>
            <Flex gap={3} align="center" wrap="wrap">
              <Text fontWeight="600">{t("{0} of {1} steps", settled, found.steps.length)}</Text>
              <State line={sheet.line} waiting={sheet.waiting.filter((item) => !item.refused).length} kept={keptHere} />
            </Flex>
          </Box>
          {found.blocked.map((text) => (
            <Text key={text} role="alert" color="bad.fg" fontWeight="600" mb={2} data-testid="blocked">
              {t("✕ Blocked: {0}", text)}
            </Text>
          ))}
          {open && (
            <Box maxW="300px" mb={3}>
              <TextField label={t("Done by (role)")} value={role} change={setBy} testId="sheet-by" />
            </Box>
          )}
          <Stack gap={3} as="ol" listStyleType="none">
            {found.steps.map((step, place) => (
              <Fragment key={step.code}>
                {step.part !== found.steps[place - 1]?.part && (
                  <Heading as="h2" size="md" mt={3}>
                    {step.part}
                  </Heading>
                )}
                <Step
                  step={step}
                  number={place + 1}
                  record={found.records[place] as JobSheet["records"][number]}
                  photos={found.photos.filter((photo) => photo.step === step.code)}
                  notApplied={found.not_applied.find((item) => item.step === step.code)?.problem}
                  waiting={sheet.waiting.filter((item) =>
                    "entry" in item ? item.entry.step === step.code : item.step === step.code,
                  )}
                  waitingValues={waitingValues}
                  sheet={found}
                  by={role}
                  add={sheet.add}
                  drop={sheet.drop}
                  again={sheet.again}
                />
              </Fragment>
            ))}
          </Stack>
          <Closing sheet={found} by={role} clear={sheet.waiting.length === 0 && sheet.line === "sent"} />
        </Box>
      </Frame>
    </UnitsOfVehicle>
  );
}

/** Whether what was done has come to the server, and whether the sheet opens here without a network. */
function State({ line, waiting, kept }: { line: Line; waiting: number; kept: boolean }) {
  const words: Record<Line, string> = {
    sent: kept ? t("✓ All is sent, and the sheet opens without a network") : t("✓ All is sent"),
    sending: t("Sending …"),
    waiting: t("! {0} kept on this device, sent when there is a network", waiting),
    full: t("✕ This device is full: free some space, then do it again"),
  };
  return (
    <Text
      role="status"
      data-testid="line"
      data-line={line}
      data-kept={kept}
      color={line === "waiting" ? "signal.fg" : line === "full" ? "bad.fg" : "fg.muted"}
    >
      {words[line]}
    </Text>
  );
}

/** Sign it, print it, or remove it. */
function Closing({ sheet, by, clear }: { sheet: JobSheet; by: string; clear: boolean }) {
  const client = useQueryClient();
  const go = useNavigate();
  const [remark, set] = useHeld(`remark ${sheet.id}`, "");
  const path = { sheet_id: sheet.id };
  const again = () => client.invalidateQueries({ queryKey: jobKeys.sheet(sheet.id) });
  const sign = useMutation({
    meta: { what: t("Signing") },
    mutationFn: () => data(api.POST("/api/sheets/{sheet_id}/sign", { params: { path }, body: { by, remark } })),
    onSuccess: again,
  });
  const share = useMutation({
    meta: { what: t("Creating the link") },
    mutationFn: () => data(api.POST("/api/sheets/{sheet_id}/links", { params: { path }, body: { days: 30 } })),
    onSuccess: again,
  });
  const revoke = useMutation({
    meta: { what: t("Revoking the link") },
    mutationFn: (link_id: number) =>
      data(api.DELETE("/api/sheets/{sheet_id}/links/{link_id}", { params: { path: { ...path, link_id } } })),
    onSuccess: again,
  });
  const remove = useMutation({
    meta: { what: t("Removing the sheet") },
    mutationFn: () => data(api.DELETE("/api/sheets/{sheet_id}", { params: { path } })),
    onSuccess: () => {
      client.invalidateQueries({ queryKey: jobKeys.of(sheet.installation) });
      go(`/installation/${sheet.installation}/jobs`);
    },
  });
  return (
    <Box borderTopWidth="2px" mt={5} pt={3} data-testid="closing">
      {sheet.signed_at ? (
        <Text fontWeight="600">
          {t("✓ Signed {0} by {1}.", when(sheet.signed_at), sheet.signed_by)} {sheet.remark}
        </Text>
      ) : (
        <Stack gap={3}>
          {sheet.in_the_way.map((item) => (
            <Box key={item.path + item.message}>
              <Text fontWeight="600">{item.message}</Text>
              <Text color="fg.muted">{item.remedy}</Text>
            </Box>
          ))}
          <TextField label={t("Remark")} value={remark} change={set} />
          <Button
            colorPalette="signal"
            size="lg"
            minH="48px"
            disabled={sheet.in_the_way.length > 0 || !clear || by.trim() === ""}
            loading={sign.isPending}
            onClick={() => sign.mutate()}
          >
            {t("Sign as {0}", by || "…")}
          </Button>
          {!clear && <Text fontSize="sm">{t("It can be signed once everything is sent.")}</Text>}
        </Stack>
      )}
      <Flex gap={2} mt={4} wrap="wrap">
        <Download load={() => fetchSheetPdf(sheet.id)} name="job-sheet.pdf">
          {t("Sheet as PDF")}
        </Download>
        <Small onClick={() => share.mutate()} disabled={share.isPending}>
          {t("Create read-only link")}
        </Small>
        {!sheet.signed_at && (
          <Remove
            what={sheet.title}
            label={t("Remove this sheet")}
            act={() => remove.mutate()}
            busy={remove.isPending}
          />
        )}
      </Flex>
      {share.data && sheet.links.some((link) => link.id === share.data?.id) && (
        <Text fontFamily="mono" fontSize="sm" wordBreak="break-all" mt={2} data-testid="share-link">
          {share.data.address}
        </Text>
      )}
      {sheet.links.map((link) => (
        <Flex key={link.id} gap={3} align="center" mt={2} wrap="wrap">
          <Text fontSize="sm">
            {t("Link valid until {0}. Anyone with the link can read this sheet.", when(link.expires_at))}
          </Text>
          <Small onClick={() => revoke.mutate(link.id)}>{t("Revoke")}</Small>
        </Flex>
      ))}
    </Box>
  );
}

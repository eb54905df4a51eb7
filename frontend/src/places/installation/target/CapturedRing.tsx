import { Box, Flex, Stack, Text } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { api, data } from "../../../api/client";
import { readFile } from "../../../ui/files";
import { fixed, signed } from "../../../ui/format";
import { Small } from "../../../ui/Small";
import { t } from "../../../ui/words";
import { useEditing } from "../context";

/** Count and flaws of a ring from the times of its pulses. */
export function CapturedRing() {
  const { document, set } = useEditing();
  const [name, call] = useState("");
  const input = useRef<HTMLInputElement>(null);
  const asked = useMutation({
    mutationFn: async (file: File) =>
      data(api.POST("/api/recordings/ring", { body: { file: await readFile(file), mark_s: null, count: null } })),
    meta: { what: t("Reading the pulses") },
  });
  const found = asked.data;
  return (
    <Stack gap={3} data-testid="captured-ring">
      <Text fontSize="sm" color="fg.muted">
        {t(
          "A text file (CSV) with one line per pulse: the time of one edge, in seconds. Mark a tooth with chalk and start the recording there; ten turns and more.",
        )}
      </Text>
      <Flex gap={2} align="center" wrap="wrap">
        <Small onClick={() => input.current?.click()}>{found ? t("Choose another file") : t("Choose a capture")}</Small>
        <input
          ref={input}
          type="file"
          accept=".csv,.txt,.tsv,text/csv,text/plain"
          aria-label={t("Capture")}
          style={{ display: "none" }}
          data-testid="capture-file"
          onChange={(event) => {
            const file = event.target.files?.[0];
            event.target.value = "";
            if (!file) return;
            call(file.name);
            asked.mutate(file);
          }}
        />
        <Text fontSize="sm">{name}</Text>
      </Flex>
      {asked.error && (
        <Text role="alert" color="bad.fg" fontWeight="600">
          {asked.error.message}
        </Text>
      )}
      {asked.isPending && <Text role="status">{t("Reading …")}</Text>}
      {found && (
        <>
          <Box bg="road" color="chalk" borderRadius="lg" borderWidth="3px" borderColor="road.edge" p={4}>
            <Text fontSize="xl" fontWeight="700" data-testid="fingerprint">
              {found.sure && found.flaws.length === 0 ? "✓" : "!"} {found.text}
            </Text>
            <Text color="chalk.dim" fontSize="sm">
              {t(
                "{0} turns; the places scatter by {1} % of the pitch; a reader of single pulses wavers by {2} %.",
                fixed(found.turns, 0),
                fixed(found.scatter_pct, 1),
                fixed(found.ripple_pct, 1),
              )}
              {found.sure && found.runout_deg > 0.02 && (
                <>
                  {" "}
                  {t(
                    "Runout moves the teeth by ± {0}° once per turn, most at tooth {1}.",
                    fixed(found.runout_deg, 2),
                    found.runout_at,
                  )}
                </>
              )}
            </Text>
            {found.sure && found.pulses_per_turn !== document.target.count && (
              <Small
                mt={3}
                colorPalette="signal"
                variant="solid"
                onClick={() => set("target", { ...document.target, count: found.pulses_per_turn, basis: "counted" })}
              >
                {t("Use {0} as the count, instead of {1}", found.pulses_per_turn, document.target.count)}
              </Small>
            )}
          </Box>
          {found.sure && (
            <Teeth
              off={found.deviation_pct}
              flawed={
                new Set(found.flaws.filter((tooth) => tooth.flaw === "out_of_place").map((tooth) => tooth.number))
              }
            />
          )}
        </>
      )}
    </Stack>
  );
}

/** How far each tooth is out of its place. */
function Teeth({ off, flawed }: { off: readonly number[]; flawed: Set<number> }) {
  const most = Math.max(...off.map(Math.abs), 0.5);
  return (
    <Box>
      <Text fontSize="sm" color="fg.muted">
        {t("Place of each tooth against an even ring, % of the pitch (± {0}); tooth 1 comes first", fixed(most, 1))}
      </Text>
      <Flex
        role="img"
        aria-label={t("Place of each tooth: {0}", off.map((value, at) => `${at + 1}: ${signed(value, 1)}`).join(", "))}
        align="stretch"
        h="120px"
        gap="1px"
        borderBottomWidth="1px"
        position="relative"
      >
        <Box position="absolute" left={0} right={0} top="50%" borderTopWidth="1px" borderColor="border" />
        {off.map((value, at) => (
          <Box
            // biome-ignore lint/suspicious/noArrayIndexKey: a tooth is its place
            key={at}
            flex="1"
            minW="1px"
            position="relative"
          >
            <Box
              position="absolute"
              left={0}
              right={0}
              top={`${50 - (50 * Math.max(value, 0)) / most}%`}
              height={`${Math.max((50 * Math.abs(value)) / most, 0.8)}%`}
              bg={flawed.has(at + 1) ? "bad.fg" : "signal.fg"}
            />
          </Box>
        ))}
      </Flex>
    </Box>
  );
}

import { Box, Flex, Grid, Stack, Text } from "@chakra-ui/react";
import { fixed } from "../../../ui/format";
import { Pending } from "../../../ui/Pending";
import { Small } from "../../../ui/Small";
import { t } from "../../../ui/words";
import { useEditing } from "../context";
import { choicesAt } from "../schema";
import { useChoices } from "../sensing";

const MARK = { suits: "✓", "with limits": "!", "does not suit": "✕" } as const;

/** Every kind of sensor compared with this target, speed, supply and heat; and where the trade disagrees. */
export function WhichSensor() {
  const { evaluated, document, catalogue, set } = useEditing();
  const asked = useChoices(evaluated.document);
  const result = asked.data;
  if (!result) return <Pending asked={asked} text={t("Comparing …")} />;
  const target = choicesAt(catalogue, "target.kind").find((item) => item.code === document.target.kind)?.label ?? "";
  return (
    <Stack gap={3} data-testid="which-sensor">
      <Text color="fg.muted" fontSize="sm">
        {t(
          "For {0} at {1} to {2} Hz. Change speeds, supply and temperature under “Requirements”.",
          target.toLowerCase(),
          fixed(result.lowest_hz, 1),
          fixed(result.top_hz, 0),
        )}
      </Text>
      <Grid templateColumns={{ base: "1fr", xl: "1fr 1fr" }} gap={2}>
        {result.choices.map((item) => {
          const chosen = item.kind === document.sensor.kind;
          return (
            <Box
              key={item.kind}
              borderWidth="1px"
              borderColor={chosen ? "signal.fg" : "border"}
              bg={chosen ? "signal.subtle" : "bg.subtle"}
              borderRadius="md"
              px={3}
              py={2}
              data-kind={item.kind}
              data-verdict={item.verdict}
            >
              <Flex justify="space-between" align="center" gap={2}>
                <Text fontWeight="700" color={item.verdict === "does not suit" ? "fg.muted" : "fg"}>
                  {MARK[item.verdict]} {item.label}
                </Text>
                {chosen ? (
                  <Text fontSize="sm">{t("in use")}</Text>
                ) : (
                  item.verdict !== "does not suit" && (
                    <Small
                      aria-label={t("Use: {0}", item.label)}
                      onClick={() =>
                        set("sensor", { ...document.sensor, kind: item.kind, facts: null, verification: null })
                      }
                    >
                      {t("Use")}
                    </Small>
                  )
                )}
              </Flex>
              <Text fontSize="sm">
                {item.verdict === "does not suit" ? item.against.slice(0, -1).join("; ") : item.reasons.join("; ")}.
              </Text>
              {item.verdict !== "does not suit" && (
                <Text fontSize="sm" color="fg.muted">
                  {t("Limits: {0}.", item.against.join("; "))}
                </Text>
              )}
            </Box>
          );
        })}
      </Grid>
      {result.schools.length > 0 && (
        <>
          <Text fontWeight="600">{t("A coil on a toothed ring: two opinions in the trade")}</Text>
          <Grid templateColumns={{ base: "1fr", xl: "1fr 1fr" }} gap={2}>
            {result.schools.map((item) => (
              <Box key={item.title} borderLeftWidth="4px" borderColor="border.emphasized" bg="bg.subtle" px={3} py={2}>
                <Text fontWeight="600">{item.title}</Text>
                <Text fontSize="sm">{item.text}</Text>
              </Box>
            ))}
          </Grid>
        </>
      )}
    </Stack>
  );
}

import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { memo, useEffect, useState } from "react";
import { type RecordingOut, useMarking } from "../../recordings/queries";
import { refusalOf } from "../../recordings/sending";
import { useAddressed } from "../../ui/address";
import { TextField } from "../../ui/fields";
import { fixed } from "../../ui/format";
import { Small } from "../../ui/Small";
import { t } from "../../ui/words";

/** What somebody wrote at times of the recording; a new one where the plot was pressed, or at a typed time. */
export const Marks = memo(function Marks({
  recording,
  pressed_s,
}: {
  recording: RecordingOut;
  pressed_s: number | null;
}) {
  const { put, remove } = useMarking(recording.id);
  const [, see] = useAddressed("at");
  const [at, setAt] = useState("");
  const [text, setText] = useState("");
  useEffect(() => {
    if (pressed_s !== null) setAt(pressed_s.toFixed(2));
  }, [pressed_s]);
  const seconds = at.trim() === "" ? Number.NaN : Number(at.replace(",", "."));
  const ready = Number.isFinite(seconds) && seconds >= 0 && text.trim() !== "";
  const error = put.error ?? remove.error;
  return (
    <details data-testid="marks" open={recording.marks.length > 0 || pressed_s !== null || undefined}>
      <summary style={{ cursor: "pointer", minHeight: 32 }}>{t("Marks: {0}", recording.marks.length)}</summary>
      {recording.marks.map((mark, place) => (
        <Flex key={mark.at_s} gap={3} align="center" wrap="wrap" py={1}>
          <Text fontFamily="mono">
            {place + 1}. {fixed(mark.at_s, 2)} s
          </Text>
          <Text flex="1" minW="120px" wordBreak="break-word">
            {mark.text} <span style={{ opacity: 0.7 }}>{mark.role}</span>
          </Text>
          <Small
            aria-label={t("Show {0} s in the plot", fixed(mark.at_s, 2))}
            onClick={() => see(`${mark.at_s.toFixed(2)}:${mark.at_s.toFixed(2)}`)}
          >
            {t("Show")}
          </Small>
          <Small
            aria-label={t("Remove the mark at {0} s", fixed(mark.at_s, 2))}
            onClick={() => remove.mutate(mark.at_s)}
            disabled={remove.isPending}
          >
            ✕
          </Small>
        </Flex>
      ))}
      <Text fontSize="sm" color="fg.muted">
        {t("Press in the plot, or type the time.")}
      </Text>
      <Grid templateColumns={{ base: "minmax(0, 1fr)", md: "130px 1fr auto" }} gap={2} alignItems="end" mt={1}>
        <TextField label={t("Mark at")} unit="s" numeric value={at} change={setAt} testId="mark-at" />
        <TextField label={t("What is there")} value={text} change={setText} testId="mark-text" />
        <Small
          disabled={!ready || put.isPending}
          onClick={() => put.mutate({ at_s: seconds, text: text.trim() }, { onSuccess: () => setText("") })}
        >
          {t("Put the mark")}
        </Small>
      </Grid>
      {error && (
        <Box role="alert" color="bad.fg" fontWeight="600">
          {refusalOf(error)}
        </Box>
      )}
    </details>
  );
});

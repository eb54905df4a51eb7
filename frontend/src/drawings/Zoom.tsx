import { Flex, Text } from "@chakra-ui/react";
import { Small } from "../ui/Small";
import { t } from "../ui/words";

/** From and to: a part of a recording, in seconds or metres. */
export type Span = readonly [number, number];

const LEAST_S = 0.002;

/** Keeps a span within the whole. */
export function within([from, to]: Span, whole: Span): Span {
  const size = Math.min(Math.max(to - from, LEAST_S), whole[1] - whole[0]);
  const begin = Math.min(Math.max(from, whole[0]), whole[1] - size);
  return [begin, begin + size];
}

/** A part larger or smaller, around its middle, within the whole. */
export const scaled = ([from, to]: Span, whole: Span, factor: number): Span => {
  const [middle, half] = [(from + to) / 2, ((to - from) / 2) * factor];
  return within([middle - half, middle + half], whole);
};

/** How much of it is seen, by buttons. */
export function Zoom({ whole, span, zoom }: { whole: Span; span: Span; zoom: (span: Span) => void }) {
  const all = span[0] <= whole[0] && span[1] >= whole[1];
  return (
    <Flex gap={2} wrap="wrap">
      <Small onClick={() => zoom(scaled(span, whole, 0.5))}>{t("Zoom in")}</Small>
      <Small onClick={() => zoom(scaled(span, whole, 2))} disabled={all}>
        {t("Zoom out")}
      </Small>
      <Small onClick={() => zoom(whole)} disabled={all}>
        {t("Show all")}
      </Small>
      <Text fontSize="xs" color="fg.muted" alignSelf="center">
        {t("Two fingers zoom, or Ctrl with the wheel of the mouse.")}
      </Text>
    </Flex>
  );
}

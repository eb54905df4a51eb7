import { Tabs } from "@chakra-ui/react";
import type { ReactNode } from "react";

/** A few views of one thing, one of them seen. */
export function Views({
  label,
  chosen,
  choose,
  views,
}: {
  label: string;
  chosen: string;
  choose: (code: string) => void;
  views: { code: string; label: string; content: ReactNode }[];
}) {
  return (
    <Tabs.Root
      value={views.some((view) => view.code === chosen) ? chosen : views[0]?.code}
      onValueChange={(change) => choose(change.value)}
      size="sm"
      variant="line"
      lazyMount
      unmountOnExit
      colorPalette="signal"
    >
      <Tabs.List aria-label={label} flexWrap="wrap">
        {views.map((view) => (
          <Tabs.Trigger
            key={view.code}
            value={view.code}
            minH={{ base: "44px", md: "36px" }}
            whiteSpace="nowrap"
            flexShrink={0}
            px={{ base: 2, md: 3 }}
            color="fg"
            _selected={{ color: "signal.fg" }}
          >
            {view.label}
          </Tabs.Trigger>
        ))}
      </Tabs.List>
      {views.map((view) => (
        <Tabs.Content key={view.code} value={view.code} pt={2} px={0}>
          {view.content}
        </Tabs.Content>
      ))}
    </Tabs.Root>
  );
}

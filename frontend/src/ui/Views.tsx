import "./views.css";
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
      unstyled
      lazyMount
      unmountOnExit
    >
      <Tabs.List aria-label={label} className="views">
        {views.map((view) => (
          <Tabs.Trigger key={view.code} value={view.code} className="view">
            {view.label}
          </Tabs.Trigger>
        ))}
      </Tabs.List>
      {views.map((view) => (
        <Tabs.Content key={view.code} value={view.code} className="viewed">
          {view.content}
        </Tabs.Content>
      ))}
    </Tabs.Root>
  );
}

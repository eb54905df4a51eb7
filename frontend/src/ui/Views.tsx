import "./views.css";
import { Tabs } from "@chakra-ui/react";
import { type ReactNode, useEffect, useRef } from "react";

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
  const seen = views.some((view) => view.code === chosen) ? chosen : views[0]?.code;
  const list = useRef<HTMLDivElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another view is chosen
  useEffect(() => {
    const at = list.current?.querySelector<HTMLElement>("[aria-selected=true]");
    if (list.current && at) list.current.scrollLeft = at.offsetLeft - (list.current.clientWidth - at.clientWidth) / 2;
  }, [seen]);
  return (
    <Tabs.Root value={seen} onValueChange={(change) => choose(change.value)} unstyled lazyMount unmountOnExit>
      <Tabs.List ref={list} aria-label={label} className="views">
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

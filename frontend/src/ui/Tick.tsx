import type { ReactNode } from "react";

/** Something to tick off, with all of its line to hit. */
export function Tick({ checked, toggle, children }: { checked: boolean; toggle: () => void; children: ReactNode }) {
  return (
    <label style={{ display: "flex", gap: 10, cursor: "pointer", minHeight: 44, alignItems: "flex-start" }}>
      <input
        type="checkbox"
        checked={checked}
        onChange={toggle}
        style={{
          width: 20,
          height: 20,
          marginTop: 2,
          flexShrink: 0,
          accentColor: "var(--chakra-colors-signal-fg)",
        }}
      />
      <span>{children}</span>
    </label>
  );
}

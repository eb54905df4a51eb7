import { Box, Button, chakra, Menu, Portal } from "@chakra-ui/react";

export type MenuItem = { label: string; act: () => void /** A rule above it. */; apart?: boolean };

/** What is not needed all the time, by name. */
export default function MoreMenu({ items, about }: { items: MenuItem[]; about?: string }) {
  return (
    <Menu.Root positioning={{ placement: "bottom-end" }}>
      <Menu.Trigger asChild>
        <MenuButton />
      </Menu.Trigger>
      <Portal>
        <Menu.Positioner>
          <Menu.Content bg="bg.panel" color="fg" minW="220px" zIndex={10}>
            {about && (
              <Box px={3} py={2} fontSize="sm" color="fg.muted">
                {about}
              </Box>
            )}
            {items.map(({ label, act, apart }) => (
              <Menu.Item
                key={label}
                value={label}
                onSelect={act}
                minH={{ base: "44px", md: "36px" }}
                fontSize="md"
                borderTopWidth={apart ? "1px" : undefined}
                cursor="pointer"
              >
                {label}
              </Menu.Item>
            ))}
          </Menu.Content>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  );
}

export function MenuButton(props: object) {
  return (
    <Button
      variant="ghost"
      size="sm"
      color="fg"
      minH={{ base: "44px", md: "36px" }}
      px={2}
      aria-label="Menu"
      {...props}
    >
      <svg width="18" height="14" viewBox="0 0 18 14" aria-hidden="true">
        <path d="M1 1.5h16M1 7h16M1 12.5h16" stroke="currentColor" strokeWidth="2" />
      </svg>
      <chakra.span display={{ base: "none", md: "inline" }}>Menu</chakra.span>
    </Button>
  );
}

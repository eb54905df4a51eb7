import { Box, Menu, Portal } from "@chakra-ui/react";
import { menuSlotRecipe } from "@chakra-ui/react/theme";
import { MenuButton } from "./MenuButton";

export type MenuItem = { label: string; act: () => void /** A rule above it. */; apart?: boolean };

/** What is not needed all the time, by name; loaded by the press that opens it. */
export default function MoreMenu({ items, about }: { items: MenuItem[]; about?: string }) {
  return (
    <Menu.Root recipe={menuSlotRecipe} defaultOpen positioning={{ placement: "bottom-end" }}>
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

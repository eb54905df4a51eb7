import { Button, type ButtonProps, chakra } from "@chakra-ui/react";
import { t } from "./words";

/** The button of the menu, there before the menu is loaded. */
export function MenuButton(props: ButtonProps) {
  return (
    <Button
      variant="ghost"
      size="sm"
      color="fg"
      minH={{ base: "44px", md: "36px" }}
      px={2}
      aria-label={t("Menu")}
      {...props}
    >
      <svg width="18" height="14" viewBox="0 0 18 14" aria-hidden="true">
        <path d="M1 1.5h16M1 7h16M1 12.5h16" stroke="currentColor" strokeWidth="2" />
      </svg>
      <chakra.span display={{ base: "none", md: "inline" }}>{t("Menu")}</chakra.span>
    </Button>
  );
}

import { CloseButton, Dialog, Portal } from "@chakra-ui/react";
import { dialogSlotRecipe } from "@chakra-ui/react/theme";
import { type ReactNode, useLayoutEffect, useRef, useState } from "react";
import { t } from "./words";

/** A dialog; a click beside it does not close it, since it may hold entries. */
export function Sheet({
  open,
  close,
  title,
  children,
  footer,
  size = "lg",
}: {
  open: boolean;
  /** Without it the dialog asks for an answer, and stays until it has one. */
  close?: () => void;
  title: string;
  children: ReactNode;
  footer?: ReactNode;
  size?: "md" | "lg" | "xl";
}) {
  const asked = useAsked(open);
  const opener = useRef<Element | null>(null);
  useLayoutEffect(() => {
    if (open) opener.current = document.activeElement;
  }, [open]);
  // an item of the menu is gone when the dialog closes: the focus returns to the button of the menu
  const toMenu = () =>
    opener.current === document.body || opener.current?.closest("[role=menu]")
      ? document.querySelector<HTMLElement>("header [aria-haspopup=menu]")
      : null;
  if (!asked) return null;
  return (
    <Dialog.Root
      recipe={dialogSlotRecipe}
      open={open}
      onOpenChange={(change) => !change.open && close?.()}
      size={size}
      scrollBehavior="inside"
      closeOnInteractOutside={false}
      finalFocusEl={toMenu}
    >
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="bg.panel" color="fg" mx={2}>
            <Dialog.Header>
              <Dialog.Title>{title}</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body tabIndex={0}>{children}</Dialog.Body>
            {footer && <Dialog.Footer flexWrap="wrap">{footer}</Dialog.Footer>}
            {close && (
              <Dialog.CloseTrigger asChild>
                <CloseButton size="md" aria-label={t("Close")} />
              </Dialog.CloseTrigger>
            )}
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}

/** Whether something was open before, or is: what nobody has asked for need not be made. */
export function useAsked(open: boolean) {
  const [asked, ask] = useState(open);
  if (open && !asked) ask(true);
  return asked || open;
}

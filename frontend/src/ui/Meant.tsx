import { Button, Text } from "@chakra-ui/react";
import { useState } from "react";
import { useCatalogue } from "../api/hooks";
import { t } from "./words";

/** What a term of the trade means: one line, by touch. */
export function Meant({ term }: { term: string }) {
  const [open, show] = useState(false);
  const found = useCatalogue().data?.glossary.find((item) => item.code === term);
  if (!found) return null;
  return (
    <Text fontSize="sm" color="fg.muted" data-testid={`meant-${term}`}>
      <Button
        variant="plain"
        size="sm"
        minH="44px"
        px={0}
        textDecoration="underline dotted"
        aria-expanded={open}
        onClick={() => show(!open)}
      >
        {t("What is: {0}?", found.term)}
      </Button>
      {open && <> {found.meaning}.</>}
    </Text>
  );
}

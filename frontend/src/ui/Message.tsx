import { Box, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import { t } from "./words";

/** One message where a page or a part of it would be. */
export function Message({ text, bad, back }: { text: string; bad?: boolean; back?: boolean }) {
  return (
    <Box px={4} py={bad ? 2 : 8} role={bad || back ? "alert" : "status"} bg={bad ? "bad.subtle" : undefined}>
      <Text as={back ? "h1" : "p"} color={bad ? "bad.fg" : undefined}>
        {text}
      </Text>
      {back && (
        <Box mt={3} textDecoration="underline">
          <Link to="/">{t("Back to the vehicles")}</Link>
        </Box>
      )}
    </Box>
  );
}

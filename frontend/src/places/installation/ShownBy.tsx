import { Link } from "react-router";
import { useInstallation } from "../../api/hooks";
import { useRecordings } from "../../recordings/queries";
import { Failing } from "../../ui/Pending";
import { useEditing } from "./context";

/** The recording that a test was passed with, where the vehicle still has it. */
export function ShownBy({ sha256 }: { sha256: string }) {
  const { installationId } = useEditing();
  const vehicle = useInstallation(installationId).data?.vehicle_id;
  const asked = useRecordings(vehicle);
  const found = asked.data?.find((recording) => recording.sha256 === sha256);
  if (!found) return <Failing asked={asked} />;
  return (
    <>
      {", "}
      <Link to={`/recording/${found.id}`} style={{ textDecoration: "underline" }}>
        {found.name}
      </Link>
    </>
  );
}

import { Link } from "react-router";
import { PageTitle } from "../shared/PageTitle";

export default function Missing() {
  return (
    <PageTitle title="Nothing here" plain="There is nothing at this address.">
      <Link to="/">Back to the desk</Link>
    </PageTitle>
  );
}

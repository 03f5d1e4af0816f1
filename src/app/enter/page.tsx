import { Enter } from "@/ui/songs/Enter";

export default function Page() {
  return <Enter />;
}

import { SongList } from "@/ui/songs/SongList";

export default function Page() {
  return <SongList />;
}

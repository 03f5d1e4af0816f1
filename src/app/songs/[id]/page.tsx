import { SongView } from "@/ui/songs/SongView";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  return <SongView key={id} id={id} />;
}

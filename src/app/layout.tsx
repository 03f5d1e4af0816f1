import type { Metadata } from "next";
import type { ReactNode } from "react";
import "@fontsource-variable/source-sans-3";
import "../ui/look/main.scss";

export const metadata: Metadata = {
  title: "jubo",
  description: "Turns the separate microphone recordings of one drum kit into a finished kit.",
};
/** Every page carries its own nonce for the content security policy. */
export const dynamic = "force-dynamic";

export default function Layout({ children }: { children: ReactNode }) {
  return (
    <html lang="en">
      <body>{children}</body>
    </html>
  );
}

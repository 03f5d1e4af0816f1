import type { ReactNode } from "react";

/** An empty bench: what goes here and what to do. */
export const Nothing = ({ children }: { children: ReactNode }) => <div className="nothing">{children}</div>;

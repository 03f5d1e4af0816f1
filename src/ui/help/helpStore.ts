import { create } from "zustand";
import { persist } from "zustand/middleware";

interface HelpState {
  readonly open: boolean;
  /** The line that says what a step is for. */
  readonly purpose: boolean;
  /** Place in the guide; null: it does not run. */
  readonly stop: number | null;
  /** Somebody took or refused the guide here before. */
  readonly offered: boolean;
}

/** What this browser's user wants to be told; kept over visits, but for the open page. */
export const useHelp = create<HelpState>()(
  persist((): HelpState => ({ open: false, purpose: true, stop: null, offered: false }), {
    name: "jubo.help",
    partialize: ({ purpose, stop, offered }) => ({ purpose, stop, offered }),
  }),
);

export const toggleHelp = (): void => void useHelp.setState(({ open }) => ({ open: !open }));
export const beginGuide = (): void => void useHelp.setState({ stop: 0, offered: true, open: false });
export const leaveGuide = (): void => void useHelp.setState({ stop: null, offered: true });

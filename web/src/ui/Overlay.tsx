import { Dialog, DialogPanel } from "@headlessui/react";
import type { ReactNode } from "react";

interface Props {
  open?: boolean;
  onClose: () => void;
  /** Whether it stands near the top, so that what grows in it does not move it. */
  high?: boolean;
  /** How large it is, and how what is in it is laid out. */
  className: string;
  children: ReactNode;
}

/** A dialog over the page, which is darkened. It is there only while it is open: a page has many, and is drawn at each move of a pointer. */
export function Overlay({ open = true, onClose, high = false, className, children }: Props) {
  if (!open) return null;
  return (
    <Dialog open onClose={onClose} className="relative z-50">
      <div className="fixed inset-0 bg-black/45" aria-hidden="true" />
      <div className={`fixed inset-0 flex justify-center p-6 ${high ? "items-start pt-[12vh]" : "items-center"}`}>
        <DialogPanel className={`rounded-lg border border-rule bg-paper ${className}`}>{children}</DialogPanel>
      </div>
    </Dialog>
  );
}

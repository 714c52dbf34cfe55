import { type KeyboardEvent, type PointerEvent, useRef } from "react";

interface Props {
  label: string;
  value: number;
  least: number;
  most: number;
  onChange: (value: number) => void;
}

/** A bar between two panes that can be dragged, or moved with the arrow keys. */
export function Split({ label, value, least, most, onChange }: Props) {
  const bar = useRef<HTMLDivElement>(null);
  const grip = useRef(0);
  const set = (next: number) => onChange(Math.min(most, Math.max(least, next)));
  const press = (event: KeyboardEvent) => {
    const steps: Record<string, number> = { ArrowUp: value - 20, ArrowDown: value + 20, Home: least, End: most };
    const next = steps[event.key];
    if (next === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    set(next);
  };
  return (
    <div
      ref={bar}
      role="separator"
      aria-orientation="horizontal"
      aria-label={label}
      aria-valuenow={value}
      aria-valuemin={least}
      aria-valuemax={most}
      tabIndex={0}
      data-handle="split"
      className="h-1.5 shrink-0 cursor-row-resize touch-none bg-sunk hover:bg-rule"
      onKeyDown={press}
      onPointerDown={(event: PointerEvent) => {
        grip.current = value - event.clientY;
        bar.current?.setPointerCapture(event.pointerId);
      }}
      onPointerMove={(event: PointerEvent) => bar.current?.hasPointerCapture(event.pointerId) && set(grip.current + event.clientY)}
    />
  );
}

import { useEffect } from "react";

import { useAxis } from "./store";

function isTyping(target: EventTarget | null): boolean {
  const element = target as HTMLElement | null;
  return Boolean(element?.closest(".cm-editor, input, textarea, select, [role='dialog']"));
}

/** The bench's keys: Space plays, comma and point step, plus, minus and 0 zoom, arrows move the cursor. */
export function useBenchKeys(onStep: (direction: 1 | -1) => void): void {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey) return;
      const axis = useAxis.getState();
      const onControl = (event.target as HTMLElement).closest("button, a, [data-handle]") !== null;
      const step = (axis.to - axis.from) / (event.shiftKey ? 20 : 200);
      const actions: Record<string, () => void> = {
        ",": () => onStep(-1),
        ".": () => onStep(1),
        "+": () => axis.zoom(0.5, axis.cursor),
        "-": () => axis.zoom(2, axis.cursor),
        "0": () => axis.look(0, axis.end),
        ...(onControl
          ? {}
          : {
              " ": () => axis.play(!axis.playing),
              ArrowLeft: () => axis.move(axis.cursor - step),
              ArrowRight: () => axis.move(axis.cursor + step),
              Home: () => axis.move(0),
              End: () => axis.move(axis.end),
            }),
      };
      const action = actions[event.key];
      if (!action) return;
      event.preventDefault();
      action();
    };
    addEventListener("keydown", press);
    return () => removeEventListener("keydown", press);
  }, [onStep]);
}

import { useLayoutEffect, useRef, useState } from "react";

import type { WhyAnswer } from "../api/generated";
import { GUTTER, RIGHT, SCALE, share } from "./layout";
import { useSpan } from "./store";

/** From an output, at the instant at which it was set, over the wait that ended then, to the readings that ended it. */
export function WhyTrace({ told, width }: { told: WhyAnswer; width: number }) {
  const { from, to } = useSpan();
  const svg = useRef<SVGSVGElement>(null);
  const [places, setPlaces] = useState<number[]>([]);
  const names = [...told.readings.map((reading) => reading.part), "program", told.part].join("|");
  useLayoutEffect(() => {
    const stack = svg.current?.parentElement;
    if (!stack) return;
    const look = () => {
      const top = stack.getBoundingClientRect().top;
      setPlaces(
        names.split("|").flatMap((name) => {
          const lane = stack.querySelector(`[data-lane="${CSS.escape(name)}"]`)?.getBoundingClientRect();
          return lane ? [Math.round(lane.top - top + (name === "program" ? 15 : lane.height / 2))] : [];
        }),
      );
    };
    look();
    const observer = new ResizeObserver(look);
    observer.observe(stack);
    return () => observer.disconnect();
  }, [names]);
  const at = share(told.at, from, to);
  const x = GUTTER + SCALE + at * Math.max(1, width - GUTTER - SCALE - RIGHT);
  const seen = at >= 0 && at <= 1 && places.length > 1;
  return (
    <svg ref={svg} className="pointer-events-none absolute inset-0 z-10 h-full w-full" aria-hidden="true" data-why-trace="">
      {seen && <line x1={x} x2={x} y1={Math.min(...places)} y2={Math.max(...places)} stroke="var(--clay)" strokeWidth="6" strokeOpacity="0.55" />}
      {seen && places.map((y, index) => <circle key={index} cx={x} cy={y} r="5" fill="var(--sheet)" stroke="var(--clay)" strokeWidth="2" />)}
    </svg>
  );
}

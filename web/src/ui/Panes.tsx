import { Children, isValidElement, type ReactElement, type ReactNode } from "react";
import { Group, Panel, Separator, useDefaultLayout } from "react-resizable-panels";

import { useNarrow } from "./useNarrow";

interface PaneProps {
  /** What it is, which its size is remembered for. */
  id: string;
  /** What the bar in front of it is called. */
  bar?: string;
  /** Its first size and its limits: pixels, or a share such as "35%". */
  size?: number | string;
  least?: number | string;
  most?: number | string;
  /** Whether it keeps its pixels when the window becomes larger. */
  keeps?: boolean;
  /** How high it is where panes stand below each other for want of room. */
  low?: string;
  children: ReactNode;
}

/** One of several panes; `Panes` lays it out. */
export function Pane({ children }: PaneProps) {
  return children;
}

interface Props {
  /** What the sizes are remembered for, in this browser. */
  id: string;
  upright?: boolean;
  /** Below which width of the window, in pixels, panes stand below each other and are scrolled; never where it is 0. */
  narrow?: number;
  children: ReactNode;
}

/** Panes beside each other, or one above the other, with bars between them: dragged, or moved with the arrow keys. */
export function Panes({ id, upright = false, narrow = 0, children }: Props) {
  const stacked = useNarrow(narrow);
  const panes = Children.toArray(children).filter((child): child is ReactElement<PaneProps> => isValidElement(child));
  const panelIds = panes.map((pane) => pane.props.id);
  const { defaultLayout, onLayoutChanged } = useDefaultLayout({ id: `geduld ${id}`, panelIds, onlySaveAfterUserInteractions: true });
  if (stacked)
    return (
      <div className="h-full overflow-y-auto" data-stacked="">
        {panes.map((pane) => (
          <div key={pane.props.id} style={{ height: pane.props.low }}>
            {pane.props.children}
          </div>
        ))}
      </div>
    );
  return (
    <Group id={id} orientation={upright ? "vertical" : "horizontal"} defaultLayout={defaultLayout} onLayoutChanged={onLayoutChanged}>
      {panes.flatMap((pane, index) => {
        const { size, least, most, keeps, bar } = pane.props;
        const panel = (
          <Panel key={pane.props.id} id={pane.props.id} defaultSize={size} minSize={least} maxSize={most} groupResizeBehavior={keeps ? "preserve-pixel-size" : "preserve-relative-size"} style={{ overflow: "hidden" }}>
            {pane.props.children}
          </Panel>
        );
        const line = <Separator key={`bar-${pane.props.id}`} aria-label={bar} data-handle="split" className={`bg-sunk hover:bg-rule ${upright ? "h-[5px] border-y border-rule" : "w-[5px] border-x border-rule"}`} />;
        return index ? [line, panel] : [panel];
      })}
    </Group>
  );
}

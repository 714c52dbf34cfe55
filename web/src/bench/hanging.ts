import { type Extension, RangeSetBuilder } from "@codemirror/state";
import { Decoration, type DecorationSet, EditorView, ViewPlugin, type ViewUpdate } from "@codemirror/view";

const MORE = 4; // columns that the rest of a wrapped line stands further in than its start

function decorations(view: EditorView): DecorationSet {
  const builder = new RangeSetBuilder<Decoration>();
  for (const { from, to } of view.visibleRanges) {
    for (let at = from; at <= to; ) {
      const line = view.state.doc.lineAt(at);
      const columns = (/^ */.exec(line.text)?.[0].length ?? 0) + MORE;
      const style = `text-indent: -${columns}ch; padding-left: calc(${columns}ch + 6px)`;
      builder.add(line.from, line.from, Decoration.line({ attributes: { style } }));
      at = line.to + 1;
    }
  }
  return builder.finish();
}

/** A line that is too long for the view goes on indented, so that the steps still stand where they belong. */
export const hanging: Extension = ViewPlugin.fromClass(
  class {
    decorations: DecorationSet;
    constructor(view: EditorView) {
      this.decorations = decorations(view);
    }
    update(update: ViewUpdate) {
      if (update.docChanged || update.viewportChanged) this.decorations = decorations(update.view);
    }
  },
  { decorations: (plugin) => plugin.decorations },
);

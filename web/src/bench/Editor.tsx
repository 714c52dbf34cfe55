import { completionKeymap, snippet } from "@codemirror/autocomplete";
import { defaultKeymap, history, historyKeymap, indentWithTab } from "@codemirror/commands";
import { indentUnit } from "@codemirror/language";
import { type Diagnostic, lintGutter, setDiagnostics } from "@codemirror/lint";
import { Compartment, EditorState, type Extension, StateEffect, StateField } from "@codemirror/state";
import { Decoration, type DecorationSet, drawSelection, EditorView, highlightActiveLine, type KeyBinding, keymap, lineNumbers } from "@codemirror/view";
import { useDeferredValue, useEffect, useLayoutEffect, useRef } from "react";

import type { Hint } from "../api/generated";
import { withEnd } from "../model/forms";
import { fixWords, numberLength } from "../model/handles";
import { hanging } from "./hanging";

export interface EditorApi {
  /** Puts texts in the places of the numbers with their units that start there, all at once; lines and columns count from 1. */
  replaceNumbers: (places: { line: number; column: number; unit: string; text: string }[]) => void;
  /** Puts a hint's fix in the place of what it is about. */
  mend: (hint: Hint) => void;
  /** Puts a form below a line as lines of their own, indented by so many spaces; Tab goes through its slots. */
  insertBelow: (form: string, line: number, indent: number) => void;
  /** Writes a text where the cursor stands, in the place of what is selected. */
  insert: (text: string) => void;
  /** Puts the cursor on a line and shows it. */
  goTo: (line: number) => void;
}

interface Props {
  label: string;
  text: string;
  hints: Hint[];
  notation: Extension;
  /** The lines that are lit. */
  lit?: number[];
  readOnly?: boolean;
  /** Where undoing is done for the whole view: else the text has a way back of its own. */
  trail?: { undo: (() => void) | undefined; redo: (() => void) | undefined };
  onChange: (text: string) => void;
  onHoverLine?: (line: number | null) => void;
  /** The line on which the cursor stands. */
  onLine?: (line: number) => void;
  /** A step is to be put below the cursor's line. */
  onInsert?: () => void;
  onReady?: (api: EditorApi) => void;
}

const NO_LINES: number[] = [];
const light = StateEffect.define<number[]>();
const litLine = StateField.define<DecorationSet>({
  create: () => Decoration.none,
  update(marks, transaction) {
    for (const effect of transaction.effects) {
      if (!effect.is(light)) continue;
      const { doc } = transaction.state;
      const lines = [...new Set(effect.value)].filter((line) => line >= 1 && line <= doc.lines).sort((a, b) => a - b);
      return Decoration.set(lines.map((line) => Decoration.line({ class: "cm-lit" }).range(doc.line(line).from)));
    }
    return marks.map(transaction.changes);
  },
  provide: (field) => EditorView.decorations.from(field),
});

const LOOK = EditorView.theme({
  "&": { height: "100%", backgroundColor: "var(--sheet)", color: "var(--ink)", fontSize: "13px" },
  ".cm-scroller": { fontFamily: "var(--font-mono)", lineHeight: "1.55" },
  ".cm-content": { caretColor: "var(--ink)", paddingBottom: "3em" },
  ".cm-cursor": { borderLeftColor: "var(--ink)" },
  ".cm-gutters": { backgroundColor: "var(--sheet)", color: "var(--soft)", border: "none" },
  ".cm-activeLine": { backgroundColor: "color-mix(in srgb, var(--sunk) 55%, transparent)" },
  ".cm-activeLineGutter": { backgroundColor: "transparent" },
  ".cm-lit": { backgroundColor: "var(--leaf-wash) !important" },
  "&.cm-focused": { outline: "none" },
  "&.cm-focused .cm-selectionBackground, .cm-selectionBackground": { backgroundColor: "color-mix(in srgb, var(--reading) 28%, transparent) !important" },
  ".cm-tooltip": { backgroundColor: "var(--sheet)", color: "var(--ink)", border: "1px solid var(--rule)", fontFamily: "var(--font-sans)" },
  ".cm-tooltip-autocomplete ul li[aria-selected]": { backgroundColor: "var(--leaf-wash)", color: "var(--ink)" },
  ".cm-completionDetail": { color: "var(--soft)", fontStyle: "normal" },
  ".cm-diagnostic-error": { borderLeftColor: "var(--clay)" },
  ".cm-diagnosticAction": { backgroundColor: "var(--leaf)", color: "var(--paper)" },
});

/** What must be changed to make one text another: all between what they begin and end with alike. */
function difference(before: string, after: string): { from: number; to: number; insert: string } | null {
  if (before === after) return null;
  let from = 0;
  while (from < before.length && from < after.length && before[from] === after[from]) from += 1;
  let end = 0;
  while (end < before.length - from && end < after.length - from && before.at(-1 - end) === after.at(-1 - end)) end += 1;
  return { from, to: before.length - end, insert: after.slice(from, after.length - end) };
}

/** The keys of undoing, for a view that undoes itself. */
function trailKeys(trail: () => Props["trail"]): KeyBinding[] {
  const undo = () => (trail()?.undo?.(), true);
  const redo = () => (trail()?.redo?.(), true);
  return [
    { key: "Mod-z", run: undo, shift: redo, preventDefault: true },
    { key: "Mod-y", run: redo, preventDefault: true },
  ];
}

function capital(text: string): string {
  return text.slice(0, 1).toUpperCase() + text.slice(1);
}

/** Where a hint stands in the text. */
function stretch(state: EditorState, hint: Hint): [number, number] {
  const place = (line: number, column: number) => {
    if (line > state.doc.lines) return state.doc.length;
    const at = state.doc.line(Math.max(1, line));
    return Math.min(at.from + column - 1, at.to);
  };
  const from = place(hint.line, hint.column);
  return [from, Math.max(from, place(hint.end_line, hint.end_column))];
}

/** Turns hints into marks in the text, with their fix as a button. */
function diagnostics(state: EditorState, hints: Hint[]): Diagnostic[] {
  return hints.map((hint) => {
    const [from, to] = stretch(state, hint);
    const fix = hint.fix;
    return {
      from,
      to,
      severity: hint.level === "advice" ? "info" : hint.level,
      message: `${hint.message} ${hint.remedy}`,
      actions:
        fix === null
          ? []
          : [
              {
                name: capital(fixWords(fix)),
                apply: (view: EditorView, start: number, stop: number) =>
                  view.dispatch({ changes: { from: start, to: stop, insert: fix } }),
              },
            ],
    };
  });
}

/** How long after Escape Tab leaves the text, in ms; any other key ends it. */
const LEAVES_FOR = 600_000;

/** The program text. Escape and then Tab leaves it. */
export function Editor({ label, text, hints, notation, lit = NO_LINES, readOnly = false, trail, onChange, onHoverLine, onLine, onInsert, onReady }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const language = useRef(new Compartment());
  const handlers = useRef({ onChange, onHoverLine, onLine, onInsert, trail });
  useEffect(() => {
    handlers.current = { onChange, onHoverLine, onLine, onInsert, trail };
  });

  useEffect(() => {
    if (!box.current) return;
    const editor = new EditorView({
      parent: box.current,
      state: EditorState.create({
        doc: text,
        extensions: [
          lineNumbers(),
          trail ? keymap.of(trailKeys(() => handlers.current.trail)) : [history(), keymap.of(historyKeymap)],
          drawSelection(),
          highlightActiveLine(),
          EditorView.lineWrapping,
          hanging,
          indentUnit.of("    "),
          EditorState.tabSize.of(4),
          keymap.of([
            { key: "Ctrl-Enter", run: () => (handlers.current.onInsert?.(), handlers.current.onInsert !== undefined) },
            ...completionKeymap, 
            ...defaultKeymap,
            indentWithTab,
          ]),
          language.current.of(notation),
          lintGutter(),
          litLine,
          LOOK,
          EditorView.contentAttributes.of({ "aria-label": label, spellcheck: "false", tabindex: "0" }),
          EditorState.readOnly.of(readOnly),
          EditorView.updateListener.of((update) => {
            if (update.docChanged) handlers.current.onChange(update.state.doc.toString());
            if (update.view.hasFocus && (update.selectionSet || update.docChanged)) handlers.current.onLine?.(update.state.doc.lineAt(update.state.selection.main.head).number);
          }),
          EditorView.domEventObservers({
            // the editor itself lets Tab leave it for two seconds only; whoever is slower would indent a line
            keydown: (event, target) => {
              if (event.key === "Escape") queueMicrotask(() => target.setTabFocusMode(LEAVES_FOR));
            },
          }),
          EditorView.domEventHandlers({
            mousemove: (event, target) => {
              const at = target.posAtCoords({ x: event.clientX, y: event.clientY });
              handlers.current.onHoverLine?.(at === null ? null : target.state.doc.lineAt(at).number);
            },
            mouseleave: () => handlers.current.onHoverLine?.(null),
          }),
        ],
      }),
    });
    view.current = editor;
    onReady?.({
      replaceNumbers: (places) => {
        const changes = places.flatMap(({ line, column, unit, text: insert }) => {
          if (line > editor.state.doc.lines) return [];
          const at = editor.state.doc.line(line);
          const from = at.from + column - 1;
          const length = numberLength(at.text.slice(column - 1), unit);
          return length ? [{ from, to: from + length, insert }] : [];
        });
        if (changes.length) editor.dispatch({ changes, userEvent: "input.drag" });
      },
      mend: (hint) => {
        const [from, to] = stretch(editor.state, hint);
        if (hint.fix !== null) editor.dispatch({ changes: { from, to, insert: hint.fix } });
        editor.focus();
      },
      insertBelow: (form, line, indent) => {
        const at = editor.state.doc.line(Math.min(Math.max(1, line), editor.state.doc.lines));
        // each line of a form is indented as the line it is put behind, and so much more
        const more = " ".repeat(Math.max(0, indent - (/^ */.exec(at.text)?.[0].length ?? 0)));
        snippet(withEnd(form).split("\n").map((item) => `\n${more}${item}`).join(""))(editor, null, at.to, at.to);
        editor.focus();
      },
      insert: (piece) => {
        editor.dispatch(editor.state.replaceSelection(piece));
        editor.focus();
      },
      goTo: (line) => {
        if (line < 1 || line > editor.state.doc.lines) return;
        const at = editor.state.doc.line(line).from;
        editor.dispatch({ selection: { anchor: at }, effects: EditorView.scrollIntoView(at, { y: "center" }) });
        editor.focus();
      },
    });
    return () => {
      editor.destroy();
      view.current = null;
    };
  }, []); // oxlint-disable-line react-hooks/exhaustive-deps -- one editor for the life of the view; what changes goes in below

  useEffect(() => {
    view.current?.dispatch({ effects: language.current.reconfigure(notation) });
  }, [notation]);

  // at once: else what is typed before it is looked at would be taken back
  useLayoutEffect(() => {
    const editor = view.current;
    const change = editor && difference(editor.state.doc.toString(), text);
    if (change) editor.dispatch({ changes: change, selection: { anchor: change.from + change.insert.length }, scrollIntoView: true });
  }, [text]);

  const marked = useDeferredValue(hints); // the lanes of the same answer are drawn first
  useEffect(() => {
    const editor = view.current;
    if (editor) editor.dispatch(setDiagnostics(editor.state, diagnostics(editor.state, marked)));
  }, [marked]);

  const lights = lit.join();
  useEffect(() => {
    view.current?.dispatch({ effects: light.of(lights ? lights.split(",").map(Number) : NO_LINES) });
  }, [lights]);

  return <div ref={box} className="h-full min-h-0 overflow-hidden" />;
}

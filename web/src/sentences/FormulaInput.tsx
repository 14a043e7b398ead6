import { autocompletion, type Completion, type CompletionContext, completionKeymap } from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { type Diagnostic, linter } from '@codemirror/lint';
import { EditorState, Prec } from '@codemirror/state';
import { EditorView, keymap, placeholder } from '@codemirror/view';
import { useEffect, useRef } from 'react';

interface FormulaInputProps {
  readonly label: string;
  readonly source: string;
  readonly placeholder: string;
  /** What can stand at a place of the text: where it would begin, and the names. */
  complete(text: string, at: number): { readonly from: number; readonly options: readonly Completion[] };
  /** What is wrong with a text, and where. */
  misfit(text: string): { readonly message: string; readonly from: number; readonly to: number } | undefined;
  onChange(source: string): void;
  /** Enter was pressed while no list of names was open, over this text. */
  onDone(text: string): void;
}

const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content ?? '';
const face = EditorView.theme({
  '&': { border: '1px solid var(--field-rule)', borderRadius: '3px', background: 'var(--card)', fontSize: '14px' },
  '&.cm-focused': { outline: '2px solid var(--bottle)', outlineOffset: '1px' },
  '.cm-content': { fontFamily: 'var(--mono)', padding: '5px 6px', caretColor: 'var(--ink)', minHeight: '44px' },
  '.cm-cursor': { borderLeftColor: 'var(--ink)' },
  '.cm-line': { padding: '0' },
  '.cm-placeholder': { color: 'var(--faded)' },
  '.cm-tooltip': { background: 'var(--card)', border: '1px solid var(--field-rule)', color: 'var(--ink)' },
  '.cm-tooltip.cm-tooltip-autocomplete > ul': { fontFamily: 'var(--sans)', maxHeight: '220px' },
  '.cm-tooltip.cm-tooltip-autocomplete > ul > li': { padding: '3px 8px' },
  '.cm-tooltip-autocomplete > ul > li[aria-selected]': { background: 'var(--bottle-wash)', color: 'var(--ink)' },
  '.cm-completionDetail': { color: 'var(--faded)', fontStyle: 'normal', marginLeft: '10px' },
  '.cm-lintRange-error': {
    backgroundImage: 'none',
    borderBottom: '2px wavy var(--vermilion)',
    textDecoration: 'underline wavy var(--vermilion)',
  },
});

/** An editor of formulas with completion, and with mistakes underlined where they are. */
export default function FormulaInput(props: FormulaInputProps) {
  const box = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView>(undefined);
  const latest = useRef(props);
  latest.current = props;
  useEffect(() => {
    const { label, source, placeholder: words } = latest.current;
    const complete = (context: CompletionContext) => {
      const { from, options } = latest.current.complete(context.state.doc.toString(), context.pos);
      return options.length === 0 || (from === context.pos && !context.explicit)
        ? null
        : { from, options: [...options], filter: false };
    };
    const lint = (editor: EditorView): Diagnostic[] => {
      const wrong = latest.current.misfit(editor.state.doc.toString());
      return wrong ? [{ from: wrong.from, to: wrong.to, severity: 'error', message: wrong.message }] : [];
    };
    const editor = new EditorView({
      parent: box.current ?? undefined,
      state: EditorState.create({
        doc: source,
        selection: { anchor: source.length },
        extensions: [
          EditorView.cspNonce.of(nonce),
          face,
          history(),
          // Enter takes a completion as soon as it shows: after a wait it would be taken for *Apply*.
          autocompletion({ override: [complete], icons: false, interactionDelay: 0 }),
          linter(lint, { delay: 250, tooltipFilter: () => [] }),
          keymap.of(completionKeymap),
          Prec.low(
            keymap.of([
              {
                key: 'Enter',
                run: ({ state }) => {
                  latest.current.onDone(state.doc.toString());
                  return true;
                },
              },
              ...historyKeymap,
              ...defaultKeymap,
            ]),
          ),
          placeholder(words),
          EditorView.lineWrapping,
          EditorView.contentAttributes.of({ 'aria-label': label, spellcheck: 'false' }),
          EditorView.updateListener.of((update) => {
            if (update.docChanged) latest.current.onChange(update.state.doc.toString());
          }),
        ],
      }),
    });
    view.current = editor;
    editor.focus();
    return () => editor.destroy();
  }, []);
  // A text that was rewritten from outside, as labels are, takes the place of what was typed.
  useEffect(() => {
    const editor = view.current;
    const shown = editor?.state.doc.toString();
    if (editor && shown !== props.source)
      editor.dispatch({ changes: { from: 0, to: shown?.length ?? 0, insert: props.source } });
  }, [props.source]);
  return <div ref={box} className="formula-input" />;
}

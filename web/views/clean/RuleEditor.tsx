/** A rule in JavaScript: lines with numbers, completion of fields, and what is wrong marked at its line. */
import { autocompletion, type CompletionContext, type CompletionResult } from '@codemirror/autocomplete';
import { javascript } from '@codemirror/lang-javascript';
import { linter, lintGutter, type Diagnostic } from '@codemirror/lint';
import { HighlightStyle, syntaxHighlighting } from '@codemirror/language';
import { EditorState } from '@codemirror/state';
import { EditorView, lineNumbers } from '@codemirror/view';
import { tags } from '@lezer/highlight';
import { minimalSetup } from 'codemirror';
import { useEffect, useRef } from 'react';
import { CLEAN_FIELDS } from '@early-set/core/clean/stepFields';
import { fieldOf } from '@early-set/core/fields/table';

const LOOK = EditorView.theme({
  '&': {
    border: '1px solid var(--line)',
    backgroundColor: 'var(--sheet)',
    color: 'var(--ink)',
    fontSize: '12px',
    maxHeight: '240px',
  },
  '.cm-content': { fontFamily: 'var(--font-mono)', minHeight: '90px', caretColor: 'var(--ink)' },
  '.cm-gutters': { backgroundColor: 'var(--paper)', color: 'var(--dim)', border: '0' },
  '.cm-scroller': { overflow: 'auto' },
  '.cm-cursor': { borderLeftColor: 'var(--ink)' },
  '.cm-tooltip': { backgroundColor: 'var(--paper)', color: 'var(--ink)', border: '1px solid var(--line)' },
  '.cm-tooltip-autocomplete ul li[aria-selected]': { backgroundColor: 'var(--chosen)', color: 'var(--ink)' },
});
const COLOURS = HighlightStyle.define([
  { tag: tags.keyword, color: 'var(--buoy-text)' },
  { tag: tags.string, color: 'var(--kelp)' },
  { tag: tags.comment, color: 'var(--dim)' },
  { tag: tags.number, color: 'var(--energy)' },
]);

const FIELDS_OF_A_RULE = ['path', ...CLEAN_FIELDS].map((id) => ({
  label: id,
  type: 'property',
  detail: id === 'path' ? 'where the file is' : fieldOf(id).label,
}));

/** Fields behind "track." and inside what is given back. */
function complete(context: CompletionContext): CompletionResult | null {
  const behind = context.matchBefore(/track\.\w*/);
  if (behind) return { from: behind.from + 'track.'.length, options: FIELDS_OF_A_RULE };
  const word = context.matchBefore(/\w+/);
  if (!word && !context.explicit) return null;
  return {
    from: word?.from ?? context.pos,
    options: [{ label: 'track', type: 'variable' }, { label: 'return', type: 'keyword' }, ...FIELDS_OF_A_RULE],
  };
}

const troubleAt = (state: EditorState, trouble: string | null): Diagnostic[] => {
  if (!trouble) return [];
  const line = state.doc.line(Math.min(state.doc.lines, Math.max(1, Number(/^Line (\d+)/.exec(trouble)?.[1] ?? 1))));
  return [{ from: line.from, to: line.to, severity: 'error', message: trouble }];
};

interface Props {
  source: string;
  onChange: (source: string) => void;
  trouble: string | null;
}

export default function RuleEditor({ source, onChange, trouble }: Props) {
  const place = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const latest = useRef({ onChange, trouble, source });
  useEffect(() => {
    latest.current = { onChange, trouble, source };
  });
  useEffect(() => {
    const editor = new EditorView({
      parent: place.current!,
      state: EditorState.create({
        doc: latest.current.source,
        extensions: [
          minimalSetup,
          lineNumbers(),
          javascript(),
          syntaxHighlighting(COLOURS),
          LOOK,
          autocompletion({ override: [complete] }),
          lintGutter(),
          linter((v) => troubleAt(v.state, latest.current.trouble), { delay: 400, needsRefresh: () => true }),
          EditorView.contentAttributes.of({ 'aria-label': 'The rule', spellcheck: 'false' }),
          EditorView.updateListener.of((u) => {
            if (u.docChanged) latest.current.onChange(u.state.doc.toString());
          }),
        ],
      }),
    });
    view.current = editor;
    return () => editor.destroy();
  }, []);
  // A preset loaded, or an undo.
  useEffect(() => {
    const editor = view.current;
    if (editor && editor.state.doc.toString() !== source)
      editor.dispatch({ changes: { from: 0, to: editor.state.doc.length, insert: source } });
  }, [source]);
  return (
    <>
      <div ref={place} />
      {trouble && source.trim() && (
        <p role="alert" className="border-l-[3px] border-flare px-2 text-flare">
          {trouble}
        </p>
      )}
      <p className="text-dim">
        JavaScript for one track. Give back the fields that change:{' '}
        <code className="figures">{'return { title: track.title.trim() }'}</code>. Several names are lists. It has no
        files, no network and no clock, and is stopped after a quarter of a second.
      </p>
    </>
  );
}

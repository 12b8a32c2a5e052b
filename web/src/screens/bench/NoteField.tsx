// The student's own words on a reading.
import { forwardRef, useEffect, useState } from 'react';

import type { Action, LedgerLine } from '../../api/client';
import './NoteField.css';

type Props = { line?: LedgerLine; closed: boolean; act: (action: Action) => Promise<unknown> };

export const NoteField = forwardRef<HTMLInputElement, Props>(function NoteField({ line, closed, act }, ref) {
  const [text, setText] = useState('');
  useEffect(() => setText(line?.note ?? ''), [line?.step, line?.note]);
  if (!line) return null;
  const save = () => {
    const note = text.trim();
    if (note !== '' && note !== (line.note ?? '')) void act({ do: 'note', step: line.step, text: note });
  };
  return (
    <input
      id="note"
      ref={ref}
      aria-label={`Note on step ${line.step}`}
      className="text-field"
      maxLength={2000}
      value={text}
      placeholder={`In your own words: what does step ${line.step} tell?`}
      disabled={closed}
      onChange={(e) => setText(e.target.value)}
      onBlur={save}
      onKeyDown={(e) => {
        if (e.key === 'Enter') e.currentTarget.blur();
        if (e.key === 'Escape') {
          setText(line.note ?? '');
          e.currentTarget.blur();
        }
      }}
    />
  );
});

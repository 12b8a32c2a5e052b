// A screen that was taken, with what one does on it: cursors, and another screen laid behind.
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { useState, type ReactNode } from 'react';

import { api, ask, type Capture } from '../api/client';
import { FileButton } from '../app/FileButton';
import { Screen } from './Screen';
import './Shot.css';

/** Room that the cursors, and a line of what is wrong, take from the screen. */
const LINE = 26;

type Props = {
  capture: Capture;
  /** Laid behind at first, dotted. */
  behind?: Capture;
  /** Earlier screens that can be laid behind. */
  earlier?: { label: string; capture: Capture }[];
  height: number;
  children: ReactNode;
};

export function Shot({ capture, behind, earlier = [], height, children }: Props) {
  const [cursors, setCursors] = useState<Cursors>();
  const [other, setOther] = useState('');
  const [file, setFile] = useState<Capture>();
  const [wrong, setWrong] = useState<string>();
  const take = async (text: string) => {
    try {
      setFile(await ask(api.POST('/api/scope/screens', { body: { text } })));
      setOther('file');
      setWrong(undefined);
    } catch (e) {
      setWrong((e as Error).message);
    }
  };
  const laid = other === 'file' ? file : earlier.find((e) => e.label === other)?.capture;
  const read = useQuery({
    queryKey: ['cursors', capture, cursors],
    queryFn: () => ask(api.POST('/api/scope/cursors', { body: { capture, cursors: cursors! } })),
    enabled: cursors !== undefined,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 0,
  });
  const lines = (cursors ? 1 : 0) + (wrong ? 1 : 0);
  const last = (capture.traces[0]?.columns.length ?? 1) - 1;
  return (
    <>
      <Screen
        capture={capture}
        behind={laid ?? behind}
        cursors={cursors}
        said={cursors && read.data?.channels}
        height={height - lines * LINE}
      />
      {cursors && (
        <CursorBar
          cursors={cursors}
          last={last}
          time={read.data?.time}
          wrong={read.error?.message}
          onMove={setCursors}
        />
      )}
      {wrong && (
        <p className="error-line" role="alert" style={{ margin: 0, height: LINE }}>
          {wrong}
        </p>
      )}
      <div className="row">
        {children}
        <Button
          size="small"
          id="scope-cursors"
          aria-pressed={cursors !== undefined}
          onClick={() => setCursors(cursors ? undefined : { a: Math.round(last / 5), b: Math.round((last * 3) / 5) })}
        >
          Cursors
        </Button>
        {(earlier.length > 0 || file) && (
          <select
            aria-label="Lay behind"
            id="scope-behind"
            className="more"
            value={other}
            onChange={(e) => setOther(e.target.value)}
          >
            <option value="">nothing behind</option>
            {earlier.map((e) => (
              <option key={e.label}>{e.label}</option>
            ))}
            {file && <option value="file">from a file</option>}
          </select>
        )}
        <FileButton id="scope-file" accept=".csv,text/csv" className="quiet-link" onText={take}>
          Compare saved trace
        </FileButton>
      </div>
    </>
  );
}

type Cursors = { a: number; b: number };
type BarProps = { cursors: Cursors; last: number; time?: string; wrong?: string; onMove: (cursors: Cursors) => void };

/** Where the cursors are moved, by mouse or arrow keys. */
function CursorBar({ cursors, last, time, wrong, onMove }: BarProps) {
  return (
    <div className="cursors">
      {(['a', 'b'] as const).map((which) => (
        <label key={which}>
          {which.toUpperCase()}{' '}
          <input
            id={`cursor-${which}`}
            type="range"
            min={0}
            max={last}
            value={cursors[which]}
            aria-label={`Cursor ${which.toUpperCase()}`}
            onChange={(e) => onMove({ ...cursors, [which]: Number(e.target.value) })}
          />
        </label>
      ))}
      <output id="cursor-reading" aria-live="polite">
        {time}
        {wrong && <span className="bad">{wrong}</span>}
      </output>
    </div>
  );
}

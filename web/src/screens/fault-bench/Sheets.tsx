// Which test sheet the students fill in: a survey, a check sheet, or a plug without marks.
import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { useState } from 'react';

import { api, ask, type FaultDoc, type Schemas } from '../../api/client';

export type SheetKind = 'surveys' | 'checks' | 'identify';

type Machine = { circuit: number; version: number; faults: FaultDoc[] };

const NONE: Record<SheetKind, string> = {
  surveys: 'Nothing on this machine carries much in a state in which all of its faults show: choose others.',
  checks: 'No harness of this machine shows all of its faults to an ohmmeter: choose faults in its wires.',
  identify: 'No plug of this machine has three things behind it that an ohmmeter tells apart; its faults are left out.',
};

/** The sheets that can be filled in on a machine, and the one that is. */
export function useSheets({ circuit, version, faults }: Machine, kind: SheetKind | undefined) {
  const found = useQuery({
    queryKey: ['test-sheets', circuit, version, faults],
    queryFn: () =>
      ask(
        api.POST('/api/circuits/{id}/test-sheets', {
          params: { path: { id: circuit } },
          body: { version, faults },
        }),
      ),
    enabled: !!kind,
    staleTime: Infinity,
    retry: false,
  });
  const [chosen, setChosen] = useState('');
  const sheets: Schemas['ProposedSheet'][] = kind ? (found.data?.[kind] ?? []) : [];
  const sheet = sheets.find((s) => s.title === chosen) ?? sheets[0];
  return { kind, found, sheets, sheet, choose: setChosen };
}

export function Sheets({ kind, found, sheets, sheet, choose }: ReturnType<typeof useSheets>) {
  if (!kind) return null;
  if (found.error) {
    return (
      <p className="error-line" role="alert">
        {found.error.message}{' '}
        <Button size="small" onClick={() => void found.refetch()}>
          Try again
        </Button>
      </p>
    );
  }
  if (!found.data) return <p className="quiet tight">Looking for sheets worth filling in …</p>;
  if (!sheet) return <p className="quiet tight">{NONE[kind]}</p>;
  const faulty = sheet.rows.filter((r) => r.faulty).length;
  return (
    <>
      <label className="tight">
        <span className="field-label">Of</span>
        <select
          id="which-sheet"
          className="more whole-width"
          value={sheet.title}
          onChange={(e) => choose(e.target.value)}
        >
          {sheets.map((s) => (
            <option key={s.title}>{s.title}</option>
          ))}
        </select>
      </label>
      <p className="quiet tight">
        {sheet.rows.length} rows
        {kind !== 'identify' && `, ${faulty === 0 ? 'all good' : `${faulty} with something wrong`}`}. What each is:
      </p>
      <div className="proposed" role="group" aria-label="Rows of the sheet" tabIndex={0}>
        <ul>
          {sheet.rows.map((r) => (
            <li key={r.title} className={r.faulty ? 'bad' : undefined}>
              <span className="mono">{r.title}</span> {r.reads}: <b>{r.is}</b>
            </li>
          ))}
        </ul>
      </div>
    </>
  );
}

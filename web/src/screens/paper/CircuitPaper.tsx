// The answer key and the check sheet of the harnesses, to be printed on A4 or Letter.
import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { useParams, useSearchParams } from 'react-router';

import { api, ask } from '../../api/client';
import { Shell } from '../../app/Shell';
import { useInstrument } from '../../app/instruments';
import './CircuitPaper.css';
import './sheet.css';

export default function CircuitPaper() {
  const instrument = useInstrument();
  const id = Number(useParams().id);
  const faults = useSearchParams()[0].get('faults') ?? '';
  const key = useQuery({
    queryKey: ['key', id, faults],
    queryFn: () => ask(api.GET('/api/circuits/{id}/key', { params: { path: { id }, query: { faults } } })),
  });
  const harness = useQuery({
    queryKey: ['harness', id],
    queryFn: () => ask(api.GET('/api/circuits/{id}/harness', { params: { path: { id } } })),
  });
  const told = key.data;
  const error = key.error ?? harness.error;
  const rows = told?.rows.filter((r) => r.tells || told.faults.length === 0) ?? [];
  const states = [...new Set(rows.map((r) => r.state))];
  return (
    <Shell
      crumbs={[
        { text: 'Circuits', to: '/circuits' },
        { text: told?.title ?? '…', to: `/circuits/${id}/fault-bench` },
        { text: 'On paper' },
      ]}
    >
      <main className="page paper" tabIndex={0}>
        {error && <p className="error-line">{error.message}</p>}
        {!told && !error && <p className="quiet">Working the key out …</p>}
        {told && (
          <>
            <p className="no-print">
              <Button onClick={() => window.print()}>Print</Button>
            </p>
            <section aria-label="Answer key">
              <h1>Answer key: {told.title}</h1>
              <p>
                {told.faults.length === 0 ? 'The healthy machine.' : <b>{told.faults.join('; ')}</b>} {told.symptom}
              </p>
              {states.map((state) => (
                <table className="sheet-table key-paper" key={state}>
                  <caption>{state === 'isolated' ? 'each place by itself' : state}</caption>
                  <thead>
                    <tr>
                      <th>Instrument</th>
                      <th>Red · black</th>
                      <th className="number">Healthy</th>
                      <th className="number">±</th>
                      {told.faults.length > 0 && <th className="number">Faulted</th>}
                      {told.faults.length > 0 && <th>Why</th>}
                    </tr>
                  </thead>
                  <tbody>
                    {rows
                      .filter((r) => r.state === state)
                      .map((r) => (
                        <tr key={`${r.kind} ${r.function} ${r.red} ${r.black} ${r.place ?? ''}`}>
                          <td>{instrument(r.function).label}</td>
                          <td className="mono">{[r.red, r.black].filter(Boolean).join(' · ')}</td>
                          <td className="number">
                            {r.healthy.text} {r.healthy.unit}
                          </td>
                          <td className="number">{r.tolerance.toFixed(2)}</td>
                          {told.faults.length > 0 && (
                            <td className="number">
                              <b>{r.faulted.text}</b> {r.faulted.unit}
                            </td>
                          )}
                          {told.faults.length > 0 && <td>{r.reason}</td>}
                        </tr>
                      ))}
                  </tbody>
                </table>
              ))}
            </section>
            <section aria-label="Harness check sheet" className="sheet-page">
              <h1>Harness check sheet: {told.title}</h1>
              <p>Both ends unplugged, leads zeroed, at 20 °C.</p>
              <table className="sheet-table key-paper">
                <thead>
                  <tr>
                    <th>Harness</th>
                    <th>From</th>
                    <th>To</th>
                    <th>Through</th>
                    <th>Colours</th>
                    <th className="number">mm²</th>
                    <th className="number">Ω</th>
                    <th>Read</th>
                    <th>Good</th>
                  </tr>
                </thead>
                <tbody>
                  {harness.data?.map((r) => (
                    <tr key={`${r.from} ${r.to}`}>
                      <td>{r.harness}</td>
                      <td className="mono">{r.from}</td>
                      <td className="mono">{r.to}</td>
                      <td className="mono">{r.through.join(', ')}</td>
                      <td>{r.colors.join(', ')}</td>
                      <td className="number">{r.area_mm2?.toFixed(2)}</td>
                      <td className="number">{r.ohms.toFixed(3)}</td>
                      <td className="blank-cell" />
                      <td>☐</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </section>
          </>
        )}
      </main>
    </Shell>
  );
}

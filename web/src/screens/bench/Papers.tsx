// The machine's papers beside the diagram: its test points by name where a lesson is worked without one,
// and what a healthy machine reads where a lesson shows it.
import { Button, Modal } from 'antd';
import { useState } from 'react';

import type { AttemptView } from '../../api/client';
import type { PointMark } from '../../diagram/Diagram';
import './Papers.css';

type PointsProps = { attempt: AttemptView; marks: Record<string, PointMark>; onPoint: (id: string) => void };

/** Every test point by name, under what it belongs to. */
export function PointList({ attempt, marks, onPoint }: PointsProps) {
  const groups = new Map<string, AttemptView['drawing']['points']>();
  for (const point of attempt.drawing.points) {
    const owner = point.id.split(/[.:]/)[0] ?? point.id;
    groups.set(owner, [...(groups.get(owner) ?? []), point]);
  }
  const name = (owner: string) => attempt.drawing.parts.find((p) => p.id === owner)?.name;
  return (
    <div className="point-list" role="group" aria-label="Test points" tabIndex={0}>
      <p className="quiet">
        {attempt.binder.length > 0 ? 'Its diagram is in the binder.' : 'This lesson is worked without a diagram.'}
      </p>
      {[...groups].map(([owner, points]) => (
        <div key={owner}>
          <b>{owner}</b> <span className="quiet">{name(owner)}</span>
          <div className="chips">
            {points.map((p) => (
              <button
                key={p.id}
                type="button"
                className={marks[p.id]?.lead ? `chip lead-${marks[p.id]?.lead}` : 'chip'}
                data-point={p.id}
                title={p.about}
                aria-label={`${p.id}, ${p.about}${marks[p.id]?.tag ? `, ${marks[p.id]?.tag}` : ''}`}
                onClick={() => onPoint(p.id)}
              >
                {p.id} {marks[p.id]?.tag}
              </button>
            ))}
          </div>
        </div>
      ))}
    </div>
  );
}

/** What a healthy machine reads at its test points, state by state. */
export function HealthySheets({ sheets }: { sheets: AttemptView['healthy'] }) {
  const [open, setOpen] = useState(false);
  if (sheets.length === 0) return null;
  const points = [...new Set(sheets.flatMap((s) => s.readings.map(([point]) => point)))];
  return (
    <>
      <Button size="small" id="healthy-sheets" onClick={() => setOpen(true)}>
        Healthy readings
      </Button>
      <Modal
        title="What a healthy machine reads, to battery negative"
        open={open}
        onCancel={() => setOpen(false)}
        footer={null}
        width={760}
      >
        <div
          className="roll scrolls"

          tabIndex={0}
          role="group"
          aria-label="Healthy readings"
        >
          <table className="sheet-table">
            <thead>
              <tr>
                <th>Test point</th>
                {sheets.map((s) => (
                  <th key={s.state}>{s.state}</th>
                ))}
              </tr>
            </thead>
            <tbody>
              {points.map((point) => (
                <tr key={point}>
                  <td className="mono">{point}</td>
                  {sheets.map((s) => (
                    <td key={s.state} className="number">
                      {s.readings.find(([p]) => p === point)?.[1]}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      </Modal>
    </>
  );
}

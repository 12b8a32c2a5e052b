// The class as it sits: each student's bench at their place in the room, seen from the front. A student is moved by
// dragging, by mouse or finger, or with the arrow keys.
import { Button } from 'antd';
import { useState, type KeyboardEvent, type PointerEvent } from 'react';
import { Link } from 'react-router';

import { api, ask, type Schemas } from '../../api/client';
import { Private } from '../../app/projector';
import { useChange } from '../classes/useClasses';
import './Seats.css';

type View = Schemas['LiveView'];
type Bench = Schemas['LiveBench'];
type Seat = Schemas['SeatView'];

const ARROWS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** The place under a pointer, if it is one; the card that is dragged lies between the two. */
function seatUnder(card: HTMLElement | null, at: PointerEvent): Seat | undefined {
  if (card) card.style.pointerEvents = 'none';
  const cell = document.elementFromPoint(at.clientX, at.clientY)?.closest<HTMLElement>('[data-column]');
  if (card) card.style.pointerEvents = '';
  if (!cell) return undefined;
  return { column: Number(cell.dataset.column), row: Number(cell.dataset.row) };
}

export function Seats({ view, now }: { view: View; now: number }) {
  const { change, error } = useChange();
  const path = (person: number) => ({ params: { path: { id: view.class_id, person } } });
  const sit = (person: number, at: Seat) =>
    change(() => ask(api.PUT('/api/classes/{id}/seats/{person}', { ...path(person), body: at })));
  const stand = (person: number) => change(() => ask(api.DELETE('/api/classes/{id}/seats/{person}', path(person))));
  const seated = view.benches.filter((b) => b.seat);
  const standing = view.benches.filter((b) => !b.seat);
  // As much of the room as is sat in, and a row and a column more to go to.
  const [most, deepest] = view.room as [number, number];
  const columns = Math.min(most, Math.max(5, 2 + Math.max(-1, ...seated.map((b) => b.seat?.column ?? 0))));
  const rows = Math.min(deepest, Math.max(3, 2 + Math.max(-1, ...seated.map((b) => b.seat?.row ?? 0))));
  const at = (column: number, row: number) => seated.find((b) => b.seat?.column === column && b.seat.row === row);
  const free = () => {
    for (let n = 0; n < columns * rows; n++) {
      const seat = { column: n % columns, row: Math.floor(n / columns) };
      if (!at(seat.column, seat.row)) return seat;
    }
    return undefined;
  };
  const card = (bench: Bench) => (
    <Card
      key={bench.student}
      bench={bench}
      name={`Bench ${1 + view.benches.indexOf(bench)}`}
      now={now}
      onDrop={(seat) => void sit(bench.student, seat)}
      onStand={() => void stand(bench.student)}
      onMove={([dx, dy]) => {
        const from = bench.seat;
        const to = from ? { column: from.column + dx, row: from.row + dy } : free();
        if (to && to.column >= 0 && to.row >= 0 && to.column < columns && to.row < rows) void sit(bench.student, to);
      }}
    />
  );
  return (
    <>
      <p className="quiet close" id="how-to-seat">
        The front of the room is above. Drag a bench to its place, or choose it and move it with the arrow keys;{' '}
        <kbd>Del</kbd> takes the place away.
      </p>
      {standing.length > 0 && (
        <section className="without-seat" aria-label="Without a place">
          <span className="quiet">Without a place:</span>
          {standing.map(card)}
        </section>
      )}
      <div className="room" style={{ gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))` }}>
        {Array.from({ length: columns * rows }, (_, n) => {
          const [column, row] = [n % columns, Math.floor(n / columns)];
          const bench = at(column, row);
          return (
            <div key={n} className="place" data-column={column} data-row={row}>
              {bench && card(bench)}
            </div>
          );
        })}
      </div>
      <div role="alert" className="error-line">
        {error}
      </div>
    </>
  );
}

type CardProps = {
  bench: Bench;
  /** What is said of it while names are hidden. */
  name: string;
  now: number;
  onDrop: (at: Seat) => void;
  onStand: () => void;
  onMove: (by: [number, number]) => void;
};

function Card({ bench: b, name, now, onDrop, onStand, onMove }: CardProps) {
  const [drag, setDrag] = useState<{ x: number; y: number; dx: number; dy: number }>();
  const stuck = b.handed_in || typeof b.gained_at !== 'number' ? 0 : Math.floor((now - b.gained_at) / 60);
  const stands = b.excused ? 'excused' : b.handed_in ? 'handed in' : b.steps === 0 ? 'not begun' : b.last;
  const begin = (e: PointerEvent<HTMLButtonElement>) => {
    e.currentTarget.setPointerCapture(e.pointerId);
    setDrag({ x: e.clientX, y: e.clientY, dx: 0, dy: 0 });
  };
  const end = (e: PointerEvent<HTMLButtonElement>) => {
    const moved = drag && Math.hypot(drag.dx, drag.dy) > 8;
    setDrag(undefined);
    const to = moved ? seatUnder(e.currentTarget.closest<HTMLElement>('.seat-card'), e) : undefined;
    if (to) onDrop(to);
  };
  const keys = (e: KeyboardEvent) => {
    const by = ARROWS[e.key];
    if (e.key === 'Delete' || e.key === 'Backspace') onStand();
    else if (by) onMove(by);
    else return;
    e.preventDefault();
  };
  return (
    <div
      className={[
        'seat-card',
        b.dangers.length > 0 ? 'danger' : '',
        stuck >= 5 ? 'stuck' : '',
        drag ? 'dragged' : '',
      ].join(' ')}
      data-seat={b.display}
      style={drag && { transform: `translate(${drag.dx}px, ${drag.dy}px)` }}
    >
      <button
        type="button"
        aria-describedby="how-to-seat"
        onPointerDown={begin}
        onPointerMove={(e) => drag && setDrag({ ...drag, dx: e.clientX - drag.x, dy: e.clientY - drag.y })}
        onPointerUp={end}
        onPointerCancel={() => setDrag(undefined)}
        onKeyDown={keys}
      >
        <Private instead={name}>{b.display}</Private>
      </button>
      <span className="quiet">{stands}</span>
      <span>
        {typeof b.left === 'number' && (
          <span className="mono">
            {b.left} of {b.of}{' '}
          </span>
        )}
        {stuck >= 5 && <span className="bad">{stuck} min </span>}
        {b.dangers.length > 0 && <span className="bad">danger </span>}
        {b.steps > 0 && (
          <Link to={`/attempts/${b.attempt}`} aria-label={`Look over: ${b.display}`}>
            look
          </Link>
        )}
      </span>
    </div>
  );
}

/** One way of looking at the class or the other. */
export function AsRowsOrSeats({ seats, onChange }: { seats: boolean; onChange: (seats: boolean) => void }) {
  return (
    <Button id="as-seats" aria-pressed={seats} onClick={() => onChange(!seats)}>
      {seats ? 'As a list' : 'As they sit'}
    </Button>
  );
}

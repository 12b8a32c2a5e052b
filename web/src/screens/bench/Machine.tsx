// What is done to the machine beside measuring: taking apart, leads and packs, looking, moving,
// warming, fitting. One list to type in; what is done now stands beside it to be undone.
import { Button, Select } from 'antd';
import { forwardRef, useImperativeHandle, useRef, type ComponentRef } from 'react';

import type { Action, AttemptView, BenchView } from '../../api/client';
import type { Leads } from './meter/state';
import './Machine.css';

type Props = { attempt: AttemptView; leads: Leads; act: (action: Action) => Promise<unknown> };
export type Way = { label: string; action: Action };

/** Controls beyond this many are worked from the list, but for the key, the rope and the engine. */
const AT_HAND = 3;

/** Whether a control has its own switch on the bench. */
export function isAtHand(view: BenchView, name: string): boolean {
  return view.controls.length <= AT_HAND || ['key', 'rope', 'engine'].includes(name);
}

/** The levers that have a switch and a key on the bench, in the order of their keys. */
export function levers(view: BenchView): string[] {
  const names = view.controls.map((c) => c.name);
  return names.filter((name) => name !== 'key' && isAtHand(view, name));
}

export type MachineHandle = { focus: () => void };

export const Machine = forwardRef<MachineHandle, Props>(function Machine({ attempt, leads, act }, handle) {
  const field = useRef<ComponentRef<typeof Select>>(null);
  useImperativeHandle(handle, () => ({ focus: () => field.current?.focus() }));
  const view = attempt.bench;
  const closed = view.handed_in;
  const allowed = (way: Way) => !attempt.forbidden_actions.includes(way.action.do);
  const groups = ways(attempt, leads)
    .map((g) => ({ ...g, ways: g.ways.filter(allowed) }))
    .filter((g) => g.ways.length > 0);
  const all = groups.flatMap((g) => g.ways);
  const choose = (label: string | null) => {
    const way = all.find((w) => w.label === label);
    if (way) void act(way.action);
  };
  return (
    <section aria-label="Machine" className="in-reasoning">
      <Select
        id="machine"
        ref={field}
        aria-label="Do something at the machine"
        className="whole-width"
        showSearch
        placeholder="At the machine: unplug C12, look at W8, join, warm up …  [U]"
        disabled={closed}
        value={null}
        onChange={choose}
        options={groups.map((g) => ({
          label: g.title,
          options: g.ways.map((w) => ({ value: w.label, label: w.label })),
        }))}
      />
      <div className="row undo">
        {undo(attempt).map((w) => (
          <Button key={w.label} size="small" disabled={closed} onClick={() => void act(w.action)}>
            {w.label}
          </Button>
        ))}
      </div>
      {view.seen.length > 0 && (
        <ul className="seen">
          {view.seen.slice(-3).map((s) => (
            <li key={s.step}>
              <b>{s.place}</b>: {s.text}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
});

/** What can be done at the machine that concerns a place. */
export function waysAt(attempt: AttemptView, place: string): Way[] {
  const cavity = attempt.drawing.cavities.find((c) => [c.id, c.male, c.female].includes(place));
  const part = attempt.drawing.parts.find((p) => p.terminals.some((t) => t.point === place));
  const ids = [place, cavity?.id, cavity?.connector, part?.id];
  const concerns = ({ action }: Way) => {
    const { place: at, what, part: fitted, connector, a, b } = action as Partial<Record<string, string>>;
    const about = [at, what, fitted, connector, a, b];
    return about.some((id) => id !== undefined && ids.includes(id));
  };
  const allowed = (way: Way) => !attempt.forbidden_actions.includes(way.action.do);
  const all = [...undo(attempt), ...ways(attempt, { red: '', black: '' }).flatMap((g) => g.ways)];
  return all.filter((way) => concerns(way) && allowed(way));
}

function ways(attempt: AttemptView, leads: Leads): { title: string; ways: Way[] }[] {
  const view = attempt.bench;
  const about = (id: string) => attempt.places.find((p) => p.id === id)?.about;
  const named = (verb: string, id: string) => `${verb} ${id}${about(id) ? ` · ${about(id)}` : ''}`;
  const between: Way[] =
    leads.red && leads.black
      ? [
          {
            label: `Join ${leads.red} and ${leads.black} with a fused lead`,
            action: { do: 'join', from: leads.red, to: leads.black, fused: true },
          },
          {
            label: `Join ${leads.red} and ${leads.black} with a lead without a fuse`,
            action: { do: 'join', from: leads.red, to: leads.black, fused: false },
          },
          {
            label: `Jump pack: plus on ${leads.red}, minus on ${leads.black}`,
            action: { do: 'support', plus: leads.red, minus: leads.black },
          },
        ]
      : [];
  return [
    {
      title: 'Take apart',
      ways: attempt.comes_apart
        .filter((id) => !view.apart.includes(id))
        .map((what) => {
          const ground = attempt.drawing.grounds.some((g) => g.id === what);
          return {
            label: named(ground ? 'Undo' : 'Unplug or pull', what),
            action: { do: 'take_apart', what } as const,
          };
        }),
    },
    {
      title: 'Label',
      ways: attempt.look_alikes
        .filter((id) => !view.labelled?.includes(id))
        .map((connector): Way => ({
          label: named('Label both halves of', connector),
          action: { do: 'label', connector },
        })),
    },
    {
      title: 'Controls',
      ways: view.controls
        .filter((c) => !isAtHand(view, c.name))
        .flatMap((c) =>
          c.positions
            .filter((p) => p !== c.position)
            .map((p): Way => ({
              label: `Put ${c.name}: ${p}`,
              action: { do: 'set_control', control: c.name, position: p },
            })),
        ),
    },
    { title: 'Between the points of the leads', ways: between },
    {
      title: 'Meter',
      ways: [
        ...(view.zeroed
          ? []
          : [{ label: 'Touch the leads together and zero them', action: { do: 'zero_leads' } } as Way]),
        ...(view.meter_fuse_blown
          ? [{ label: "Renew the meter's fuse", action: { do: 'renew_meter_fuse' } } as Way]
          : []),
      ],
    },
    {
      title: 'Look closely',
      ways: attempt.places.map((p) => ({ label: named('Look at', p.id), action: { do: 'inspect', place: p.id } })),
    },
    {
      title: 'Move',
      ways: [
        ...attempt.harnesses.map((what): Way => ({
          label: `Move the harness ${what}`,
          action: { do: 'wiggle', what },
        })),
        ...attempt.places.map((p): Way => ({ label: named('Move', p.id), action: { do: 'wiggle', what: p.id } })),
      ],
    },
    {
      title: 'Fit',
      ways: [
        ...attempt.alike.map(([a = '', b = '']): Way => ({
          label: `Exchange ${a} and ${b}`,
          action: { do: 'swap', a, b },
        })),
        ...attempt.known_good
          .filter((id) => !view.lent.includes(id))
          .map((id): Way => ({ label: named('Fit a known-good', id), action: { do: 'fit_known_good', part: id } })),
      ],
    },
    {
      title: 'Surroundings',
      ways: [
        view.warm
          ? { label: 'Let it cool (30 min)', action: { do: 'cool_down' } }
          : { label: 'Warm it up (10 min)', action: { do: 'warm_up' } },
        view.wet ? { label: 'Dry it', action: { do: 'dry' } } : { label: 'Wet it', action: { do: 'wet' } },
        { label: 'Wait 5 min', action: { do: 'wait', minutes: 5 } },
        { label: 'Wait an hour', action: { do: 'wait', minutes: 60 } },
        ...attempt.modules.map((module): Way => ({
          label: `Clear the codes of ${module}`,
          action: { do: 'clear_codes', module },
        })),
      ],
    },
  ];
}

/** What stands otherwise than it came in, to be put back. */
function undo(attempt: AttemptView): Way[] {
  const view = attempt.bench;
  return [
    ...view.apart.map((what): Way => ({
      label: `Put ${what} back${view.labelled?.includes(what) ? ', by its label' : ''}`,
      action: { do: 'put_back', what },
    })),
    ...view.joined.map(([from = '', to = '']): Way => ({
      label: `Take the lead off ${from} – ${to}`,
      action: { do: 'unjoin', from, to },
    })),
    ...view.controls
      .filter((c) => !isAtHand(view, c.name) && c.position !== c.positions[0])
      .map((c): Way => ({
        label: `${c.name} ${c.positions[0] ?? ''} again`,
        action: { do: 'set_control', control: c.name, position: c.positions[0] ?? '' },
      })),
    ...(view.supported ? [{ label: 'Take the jump pack off', action: { do: 'unsupport' } } as Way] : []),
    ...(view.moved.length > 0
      ? [{ label: `Leave ${view.moved.join(', ')} at rest`, action: { do: 'rest' } } as Way]
      : []),
    ...view.pierced.map((wire): Way => ({ label: `Seal ${wire}`, action: { do: 'seal', wire } })),
    ...view.lent.map((part): Way => ({ label: `Refit original ${part}`, action: { do: 'fit_own', part } })),
    ...(view.meter_fuse_blown ? [{ label: "Renew the meter's fuse", action: { do: 'renew_meter_fuse' } } as Way] : []),
  ];
}

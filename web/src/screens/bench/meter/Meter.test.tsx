import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useReducer } from 'react';
import { describe, expect, it, vi } from 'vitest';

import type { AttemptView, LedgerLine } from '../../../api/client';
import { InstrumentsContext } from '../../../app/instruments';
import { ALL, attempt, bench, ledgerLine } from '../../../test/attempt';
import { Meter } from './Meter';
import { freshMeter, meterReducer, type MeterState } from './state';

type Props = {
  of?: AttemptView;
  start?: Partial<MeterState>;
  line?: LedgerLine;
  onRead?: () => void;
  onJudge?: () => void;
};

function Hand({ of = attempt(), start = {}, line, onRead = () => {}, onJudge = () => {} }: Props) {
  const [meter, send] = useReducer(meterReducer, { ...freshMeter('dc_volts', 'B7.-'), ...start });
  const set = (fn: string) => {
    const by = (name: string) => ALL.find((i) => i.function === name)!;
    send({ do: 'set', to: by(fn), from: by(meter.fn), modules: [] });
  };
  return (
    <InstrumentsContext value={ALL}>
      <Meter
        attempt={of}
        instruments={ALL}
        meter={meter}
        send={send}
        path={['B7.+', 'H1.1']}
        onFunction={set}
        onRead={onRead}
        line={line}
        onJudge={onJudge}
        busy={false}
      />
    </InstrumentsContext>
  );
}

const red = () => screen.getByLabelText(/red/);

describe('taking a reading', () => {
  it('says what is missing until nothing is', async () => {
    const read = vi.fn();
    render(<Hand onRead={read} />);
    expect(screen.getByText('the red lead is on nothing')).toBeVisible();
    await userEvent.type(red(), 'h1.1{Enter}');
    expect(screen.getByText('first write what it should read')).toBeVisible();
    await userEvent.type(screen.getByLabelText(/Expected, good circuit/), '12.4{Enter}');
    expect(read).toHaveBeenCalledOnce();
  });

  it('asks for no expectation where the lesson does not', () => {
    render(<Hand of={attempt({ predictions: false })} start={{ leads: { red: 'H1.1', black: 'B7.-' } }} />);
    expect(screen.getByRole('button', { name: /Take reading/ })).toBeEnabled();
    expect(screen.queryByLabelText(/Expected, good circuit/)).toBeNull();
  });

  it('goes from lead to lead to the reading by Enter alone', async () => {
    const read = vi.fn();
    render(<Hand of={attempt({ predictions: false })} start={{ leads: { red: '', black: '' } }} onRead={read} />);
    await userEvent.type(red(), 'h1.1{Enter}');
    expect(screen.getByLabelText(/black/)).toHaveFocus();
    await userEvent.keyboard('B7.-{Enter}');
    expect(screen.getByRole('button', { name: /Take reading/ })).toHaveFocus();
    await userEvent.keyboard('{Enter}');
    expect(read).toHaveBeenCalledOnce();
  });

  it('takes none on a bench that has been handed in', () => {
    render(<Hand of={attempt({ bench: bench({ handed_in: true }) })} />);
    expect(screen.getByRole('button', { name: /Take reading/ })).toBeDisabled();
    expect(red()).toBeDisabled();
  });
});

describe('a lead', () => {
  it('steps along the path by arrow keys', async () => {
    render(<Hand />);
    await userEvent.click(red());
    await userEvent.keyboard('{ArrowRight}{ArrowRight}');
    expect(red()).toHaveValue('H1.1');
  });

  it('says what does not exist, and keeps its point', async () => {
    render(<Hand start={{ leads: { red: 'H1.1', black: 'B7.-' } }} />);
    await userEvent.clear(red());
    await userEvent.type(red(), 'X9');
    expect(screen.getByText('no such test point')).toBeVisible();
    await userEvent.keyboard('{Escape}');
    expect(red()).toHaveValue('H1.1');
  });

  it('goes round a wire with a clamp, and black is not used', async () => {
    render(<Hand />);
    await userEvent.click(screen.getByRole('button', { name: 'Clamp' }));
    expect(screen.getByLabelText(/around wire/)).toHaveAttribute('placeholder', 'no wire yet');
    expect(screen.getByLabelText(/black/)).toBeDisabled();
  });
});

describe('the display', () => {
  const line = ledgerLine(4);
  it('shows the reading it is on', () => {
    render(<Hand line={line} start={{ shown: 4 }} />);
    expect(screen.getByText('12.31')).toBeVisible();
  });

  it('is blank once a lead has been moved, and the reading can still be judged', async () => {
    const judge = vi.fn();
    render(<Hand line={line} start={{ shown: 4 }} onJudge={judge} />);
    await userEvent.type(red(), 'H1.1{Enter}');
    expect(screen.queryByText('12.31')).toBeNull();
    await userEvent.click(screen.getByRole('button', { name: 'normal' }));
    expect(judge).toHaveBeenCalledWith('normal');
  });
});

describe('settings', () => {
  it('are those of the instrument, at what is usual', async () => {
    render(<Hand />);
    await userEvent.selectOptions(screen.getByLabelText('More instruments'), 'spark_tester');
    expect(screen.getByLabelText('Set to')).toHaveValue('10');
  });

  it('ask how a lead gets into a connector only where it goes into one, and offer no needle where it is forbidden', async () => {
    render(<Hand of={attempt({ forbidden: ['piercing'] })} />);
    expect(screen.queryByLabelText('Into the connector by')).toBeNull();
    await userEvent.type(red(), 'C1.1f{Enter}');
    const ways = screen.getByLabelText('Into the connector by');
    expect([...ways.querySelectorAll('option')].map((o) => o.value)).toEqual(['pin', 'thick']);
  });
});

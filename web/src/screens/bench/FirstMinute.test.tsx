import { expect, test } from 'vitest';

import { attempt, bench, ledgerLine } from '../../test/attempt';
import { firstMinute } from './FirstMinute';
import { freshMeter } from './meter/state';

const LAMP = { name: 'work lamp', positions: ['off', 'on'], position: 'off' };
const ON = { ...LAMP, position: 'on' };

test('each thing that is done brings the next, and what comes after counts for what was before', () => {
  const meter = freshMeter('dc_volts', 'BAT.-');
  const onIt = { ...meter, leads: { red: 'H1.1', black: 'BAT.-' } };
  const elsewhere = ledgerLine(2, { red: 'F1.1' });
  const at = (view: Parameters<typeof bench>[0], hand = meter) =>
    1 +
    firstMinute(attempt({ bench: bench(view) }), hand)
      .map((s) => s.done)
      .lastIndexOf(true);
  expect(at({ controls: [LAMP] })).toBe(0);
  expect(at({ controls: [ON] })).toBe(1);
  expect(at({ controls: [ON], ledger: [elsewhere] }, onIt)).toBe(2);
  expect(at({ controls: [ON] }, { ...onIt, expected: '12' })).toBe(3);
  // What was expected is gone from the field once it is taken.
  expect(at({ controls: [ON], ledger: [elsewhere, ledgerLine(3)] }, onIt)).toBe(4);
  expect(at({ controls: [LAMP], ledger: [ledgerLine(3, { verdict: 'normal' })] })).toBe(5);
});

import { expect, test } from 'vitest';

import { soundsOf } from './sound';

const of = (part: string, sign: string) => ({ part, sign });

test('what begins is heard, and what goes on is not heard again', () => {
  const before = [of('H1', 'bright'), of('K3', 'click')];
  const now = [of('H1', 'dim'), of('K3', 'click'), of('M1', 'slow')];
  expect(soundsOf(before, now)).toEqual(['slow crank']);
  expect(soundsOf([], before)).toEqual(['click']);
});

test('many that do the same are heard as one', () => {
  expect(soundsOf([], [of('K1', 'chatter'), of('K2', 'chatter'), of('M1', 'silent')])).toEqual(['chatter']);
});

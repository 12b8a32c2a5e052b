import { expect, test } from 'vitest';

import type { Action, AttemptView } from '../../api/client';
import { warningOf } from './useCaution';

const WARNINGS: AttemptView['warnings'] = [
  { act: 'join_unfused', text: 'No fuse.', before: [{ do: 'join', fused: false }] },
  {
    act: 'battery_off',
    text: 'Negative first.',
    before: [
      { do: 'take_apart', what: 'B1' },
      { do: 'take_apart', what: 'B2' },
    ],
  },
];

test.each<[Action, string | undefined]>([
  [{ do: 'join', from: 'A', to: 'B', fused: false }, 'No fuse.'],
  [{ do: 'join', from: 'A', to: 'B', fused: true }, undefined],
  [{ do: 'take_apart', what: 'B2' }, 'Negative first.'],
  [{ do: 'take_apart', what: 'F1' }, undefined],
  [{ do: 'hand_in' }, undefined],
])('%o is warned of as the server says', (action, text) => {
  expect(warningOf(WARNINGS, action)?.text).toBe(text);
});

import { fireEvent, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';

import { project } from '../../app/projector';
import { served } from '../../test/served';
import Debriefs from './Debriefs';

// What is drawn is tested elsewhere.
vi.mock('../../diagram/Diagram', () => ({ Diagram: () => <div data-drawn /> }));
vi.mock('../../diagram/chosen', () => ({
  ChosenPlace: ({ children }: { children: ReactNode }) => children,
  Named: ({ id }: { id: string }) => id,
}));

const bench = (attempt: number, display: string, handed_in = true) => ({
  attempt,
  student: attempt,
  display,
  handed_in,
  steps: 2,
});
const step = (n: number, did: string, left: number) => ({
  step: n,
  did,
  ruled_out: [],
  left: Array.from({ length: left }, (_, k) => ({ place: `W${k}`, share: 1 / left })),
  minutes: 1,
  overlooked: [],
});
const debrief = {
  begin: step(0, '', 3).left,
  steps: [step(1, 'Tried the complaint', 3), step(2, 'Read 0.00 V at K3.86', 1)],
  plan: { begin: [], steps: [], group: [], bits: 1, minutes: 2, plausible: 0 },
  practise: '',
};

describe('a debrief side by side', () => {
  beforeEach(() => {
    served(<Debriefs />, {
      '/api/assignments/{id}/live': {
        title: 'Tug',
        class: 'First year',
        benches: [
          bench(1, 'A. Abend'),
          bench(2, 'B. Corvaan'),
          bench(3, 'C. Dell'),
          bench(4, 'D. Estrum'),
          bench(5, 'E. Fal', false),
        ],
      },
      '/api/attempts/{id}': { drawing: { title: 'Tug', places: [], points: [] } },
      '/api/attempts/{id}/debrief': debrief,
    });
  });
  afterEach(() => {
    project(false);
    vi.restoreAllMocks();
  });

  it('is of those who have handed in, three at most', async () => {
    const boxes = await screen.findAllByRole('checkbox');
    expect(boxes).toHaveLength(4);
    for (const box of boxes.slice(0, 3)) await userEvent.click(box);
    expect(boxes[3]).toBeDisabled();
    expect(screen.getAllByRole('region')).toHaveLength(3);
  });

  it('is gone through with the arrow keys, all at once, from the first step to the last', async () => {
    for (const box of (await screen.findAllByRole('checkbox')).slice(0, 2)) await userEvent.click(box);
    expect(await screen.findAllByText(/Step 1: Tried the complaint/)).toHaveLength(2);
    fireEvent.keyDown(document.body, { key: 'ArrowRight' });
    expect(await screen.findAllByText(/Step 2: Read 0.00 V/)).toHaveLength(2);
    expect(screen.getAllByText('1 of 3 suspects')).toHaveLength(2);
    fireEvent.keyDown(document.body, { key: 'ArrowRight' });
    expect(screen.getByRole('status')).toHaveTextContent('step 2 of 2');
    fireEvent.keyDown(document.body, { key: 'ArrowLeft' });
    expect(screen.getByRole('status')).toHaveTextContent('step 1 of 2');
  });

  it('says nowhere whose it is while it is projected', async () => {
    project(true);
    expect(await screen.findByText('Attempt 2')).toBeInTheDocument();
    expect(screen.queryByText('B. Corvaan')).toBeNull();
  });
});

import { render, screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';

import { Intro } from './Before';

const stair = (point: string, healthy: number, faulted: number) => ({
  point,
  through: null,
  ground_side: false,
  healthy_v: healthy,
  faulted_v: faulted,
  faulted_range: null,
});
const picture = (faulted: boolean) => ({
  title: 'A break shows as a step',
  faulted,
  staircase: {
    title: 'lamp',
    missing: null,
    stairs: [stair('BAT.+', 12.6, 12.6), stair('H1.1', 12.5, 0), stair('BAT.-', 0, 0)],
  },
});

describe('what one reads before a lesson', () => {
  it('says the goal and what to know, without a picture where there is none', () => {
    render(<Intro intro={{ goal: 'Find where a path ends.', know: 'Measure in the middle.', picture: null }} />);
    expect(screen.getByText('Find where a path ends.')).toBeInTheDocument();
    expect(screen.queryByRole('img')).toBeNull();
  });

  it('draws the circuit with its fault, and the sound one dotted beside it', () => {
    const { container, rerender } = render(<Intro intro={{ goal: 'g', know: 'k', picture: picture(true) }} />);
    expect(screen.getByRole('img', { name: 'A break shows as a step' })).toBeInTheDocument();
    expect(screen.getByText(/dotted: the same circuit when it is sound/)).toBeInTheDocument();
    const drawn = () => [...container.querySelectorAll('svg path')].filter((p) => p.getAttribute('d')).length;
    expect(drawn()).toBe(2);
    rerender(<Intro intro={{ goal: 'g', know: 'k', picture: picture(false) }} />);
    expect(screen.queryByText(/dotted/)).toBeNull();
    expect(drawn()).toBe(1);
  });
});

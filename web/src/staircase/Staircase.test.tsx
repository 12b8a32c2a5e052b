import { fireEvent, render, screen } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';

import { Staircase, ticksTo } from './Staircase';

describe('the lines behind the steps', () => {
  it.each([
    [14, [0, 4, 8, 12]],
    [28, [0, 8, 16, 24]],
    [7, [0, 2, 4, 6]],
  ])('up to %d V', (top, ticks) => expect(ticksTo(top)).toEqual(ticks));
});

describe('a staircase', () => {
  const points = [
    { point: 'B7.+', dot: { volts: 24.8, tone: 'good' as const } },
    { point: 'metal:frame', passed: [{ place: 'W1', held: 'suspect' as const }], expected: 24 },
  ];

  it('draws a dot for each reading, names its stops, and tells of a metal without its prefix', () => {
    const { container } = render(<Staircase label="Your readings" points={points} top={28} />);
    expect(container.querySelectorAll('circle[cx]')).toHaveLength(1);
    expect(screen.getByText('frame')).toBeInTheDocument();
  });

  it('lets a stop take the lead and a place be chosen', () => {
    const [point, place] = [vi.fn(), vi.fn()];
    const { container } = render(
      <Staircase label="Your readings" points={points} top={28} onPoint={point} onPlace={place} />,
    );
    fireEvent.click(screen.getByText('B7.+'));
    fireEvent.click(container.querySelector('[data-passed=W1]')!);
    expect(point).toHaveBeenCalledWith('B7.+');
    expect(place).toHaveBeenCalledWith('W1');
  });

  it('is empty without points', () => {
    render(<Staircase label="Your readings" points={[]} top={14} />);
    expect(screen.getByRole('img', { name: 'Your readings' })).toBeInTheDocument();
  });
});

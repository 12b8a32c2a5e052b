import { render, screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';

import type { Scene } from './scene';
import { Sketch, type SketchMark } from './Sketch';

const scene = {
  boxes: [],
  symbols: [],
  places: [{ id: 'W8', x: 40, y: 10 }],
  points: [{ id: 'K3.86', x: 100, y: 10 }],
} as unknown as Scene;

function drawn(marks: SketchMark[]) {
  render(
    <svg role="img" aria-label="sketch">
      <Sketch scene={scene} marks={marks} />
    </svg>,
  );
  return screen.getByRole('img');
}

describe('a sketch', () => {
  it('has words at their place', () => {
    const svg = drawn([{ at: 'W8', text: 'measured here' }]);
    expect(svg.querySelector('text')).toHaveTextContent('measured here');
    expect(svg.querySelector('circle')).toHaveAttribute('cx', '40');
  });

  it('has an arrow that ends short of where it goes', () => {
    const svg = drawn([{ at: 'W8', to: 'K3.86', text: '' }]);
    expect(svg.querySelector('path')?.getAttribute('d')).toMatch(/^M40 10L91 10/);
    expect(svg.querySelector('text')).toBeNull();
  });

  it('leaves out what has no place on this diagram', () => {
    const svg = drawn([
      { at: 'W99', text: 'gone' },
      { at: 'W8', to: 'W99', text: 'gone too' },
    ]);
    expect(svg.querySelectorAll('[data-sketch]')).toHaveLength(0);
  });
});

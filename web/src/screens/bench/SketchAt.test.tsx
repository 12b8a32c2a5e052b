import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';

import { attempt } from '../../test/attempt';
import { SketchAt } from './SketchAt';
import type { OwnSketch } from './useSketch';

const FIRST = { at: 'H1', text: 'measured here' };

function mark(of: Partial<OwnSketch> = {}) {
  const keep = vi.fn(() => Promise.resolve(undefined));
  const sketch = { marks: [FIRST], keep, error: null, own: true, ...of };
  const close = vi.fn();
  render(<SketchAt attempt={attempt()} place="H1" sketch={sketch} onClose={close} />);
  return { keep, close };
}

describe('a mark on the diagram', () => {
  it('is written at the chosen place, beside what is there', async () => {
    const { keep, close } = mark();
    await userEvent.type(await screen.findByRole('textbox', { name: 'Words' }), ' 12.4 V {enter}');
    expect(keep).toHaveBeenCalledWith([FIRST, { at: 'H1', to: undefined, text: '12.4 V' }]);
    expect(close).toHaveBeenCalledTimes(1);
  });

  it('is put there by a press, and rubbed out', async () => {
    const { keep } = mark();
    await userEvent.click(await screen.findByRole('button', { name: 'Rub out measured here' }));
    expect(keep).toHaveBeenLastCalledWith([]);
    await userEvent.click(await screen.findByRole('button', { name: '?' }));
    expect(keep).toHaveBeenLastCalledWith([FIRST, { at: 'H1', to: undefined, text: '?' }]);
  });

  it('stays open with its words where it cannot be kept', async () => {
    const error = new Error('The server cannot be reached.');
    mark({ keep: vi.fn(() => Promise.reject(error)) as unknown as OwnSketch['keep'], error });
    await userEvent.type(await screen.findByRole('textbox', { name: 'Words' }), 'here{enter}');
    expect(await screen.findByRole('alert')).toHaveTextContent('cannot be reached');
    expect(screen.getByRole('textbox', { name: 'Words' })).toHaveValue('here');
  });
});

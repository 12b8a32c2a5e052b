import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';

import { JobOf, type Job } from './JobOf';

async function offered(props: { job: Job; sound?: boolean; noticed?: boolean }) {
  const onChange = vi.fn();
  render(<JobOf {...props} onChange={onChange} />);
  await userEvent.click(screen.getByRole('combobox', { name: 'The machine comes in' }));
  const options = [...document.querySelectorAll('.ant-select-item-option')];
  return { texts: options.map((o) => o.textContent), onChange, options };
}

describe('what a machine comes in for', () => {
  it('may be anything where its fault is noticed', async () => {
    const { texts } = await offered({ job: 'complaint' });
    expect(texts).toHaveLength(3);
  });

  it('is a check where nobody notices its fault', async () => {
    const { texts, options, onChange } = await offered({ job: 'check_up', noticed: false });
    expect(texts).toHaveLength(2);
    expect(texts.every((t) => t.startsWith('for a check'))).toBe(true);
    await userEvent.click(options[1]!);
    expect(onChange.mock.calls[0]?.[0]).toBe('check_up_or_sound');
  });

  it('is to learn the tools on, or to be found sound, where it is healthy', async () => {
    const { texts } = await offered({ job: 'complaint', sound: true });
    expect(texts).toEqual([
      'healthy, to learn the tools on: nothing is marked',
      'for a check, and it may be sound: “no fault found” is an answer',
    ]);
  });
});

import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { describe, expect, it, vi } from 'vitest';

import type { Schemas } from '../../api/client';
import { CraftOf } from './CraftOf';
import type { Rules } from './LessonRules';
import { PricesOf } from './PricesOf';
import { ToldOf, type Told } from './ToldOf';

const usual = {
  rules: { weights: { repair: 10, craft: 15 } },
  craft: { around: ['wet', 'moves', 'hot'] },
  prices: { money: 'crowns', hour: 72, material: 4, part: 25, parts: { starter: 210 } },
  questions: [{ question: 'heat', text: 'Hot or cold?' }],
} as unknown as Schemas['Usual'];

describe('how a repair is made', () => {
  it('counts with its usual weight, also in a lesson from before', async () => {
    const change = vi.fn();
    const rules = { weights: { repair: 10 } } as unknown as Rules;
    render(<CraftOf rules={rules} usual={usual} change={change} />);
    await userEvent.click(screen.getByRole('checkbox', { name: /It counts how/ }));
    expect(change).toHaveBeenCalledWith({ craft: usual.craft, weights: { repair: 10, craft: 15 } });
  });

  it('has to stand what is ticked, and can be switched off', async () => {
    const change = vi.fn();
    const rules = { weights: {}, craft: { around: ['wet', 'hot'] } } as unknown as Rules;
    render(<CraftOf rules={rules} usual={usual} change={change} />);
    await userEvent.click(screen.getByRole('checkbox', { name: 'heat' }));
    expect(change).toHaveBeenLastCalledWith({ craft: { around: ['wet'] } });
    await userEvent.click(screen.getByRole('checkbox', { name: 'shaking' }));
    expect(change).toHaveBeenLastCalledWith({ craft: { around: ['wet', 'hot', 'moves'] } });
    await userEvent.click(screen.getByRole('checkbox', { name: /It counts how/ }));
    expect(change).toHaveBeenLastCalledWith({ craft: null });
  });
});

describe('prices', () => {
  it('begin as usual and can be changed', async () => {
    const change = vi.fn();
    const { rerender } = render(<PricesOf rules={{} as Rules} usual={usual} change={change} />);
    await userEvent.click(screen.getByRole('checkbox'));
    expect(change).toHaveBeenCalledWith({ prices: usual.prices });
    rerender(<PricesOf rules={{ prices: usual.prices } as Rules} usual={usual} change={change} />);
    await userEvent.type(screen.getByLabelText('starter'), '5');
    expect(change).toHaveBeenLastCalledWith({ prices: { ...usual.prices, parts: { starter: 2105 } } });
    await userEvent.type(screen.getByLabelText('money'), '!');
    expect(change).toHaveBeenLastCalledWith({ prices: { ...usual.prices, money: 'crowns!' } });
  });
});

function Telling({ heard }: { heard: (told: Told) => void }) {
  const [told, setTold] = useState<Told>({});
  return (
    <ToldOf
      told={told}
      usual={usual}
      onChange={(now) => {
        setTold(now);
        heard(now);
      }}
    />
  );
}

describe('what is told', () => {
  it('is an answer that may lead astray, and lines of earlier work', async () => {
    const heard = vi.fn();
    render(<Telling heard={heard} />);
    await userEvent.click(screen.getByRole('button', { name: /earlier work/ }));
    await userEvent.type(screen.getByLabelText('Hot or cold?'), 'Hot');
    await userEvent.click(screen.getByRole('checkbox', { name: 'leads astray' }));
    expect(heard).toHaveBeenLastCalledWith({ answers: [{ question: 'heat', says: 'Hot', misleads: true }] });
    await userEvent.clear(screen.getByLabelText('Hot or cold?'));
    expect(heard).toHaveBeenLastCalledWith({ answers: [] });
    await userEvent.click(screen.getByRole('button', { name: 'Another line of earlier work' }));
    await userEvent.type(screen.getByLabelText('When, line 1'), 'May');
    await userEvent.type(screen.getByLabelText('What was done, line 1'), 'Fuse');
    expect(heard).toHaveBeenLastCalledWith({ answers: [], earlier: [{ when: 'May', what: 'Fuse' }] });
    await userEvent.click(screen.getByRole('button', { name: 'Take line 1 out' }));
    expect(heard).toHaveBeenLastCalledWith({ answers: [], earlier: [] });
  });
});

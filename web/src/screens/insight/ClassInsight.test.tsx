import { screen, within } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';

import { project } from '../../app/projector';
import { served } from '../../test/served';
import ClassInsight from './ClassInsight';

const WEEK = 7 * 24 * 3600;
const monday = 1_790_000_000;
const criterion = (name: string, title: string, shares: number[]) => ({
  criterion: name,
  title,
  weeks: shares.map((share, n) => ({ begins: monday + n * WEEK, share, sheets: 4 })),
  students: [
    { student: 3, display: 'T. Oduya', share: shares[0] ?? 0, sheets: 2 },
    { student: 2, display: 'I. Varga', share: shares.at(-1) ?? 0, sheets: 3 },
  ],
});

describe('what a class can do', () => {
  beforeEach(() => {
    served(<ClassInsight />, {
      '/api/classes/{id}/insight': {
        class: 'First year',
        criteria: [criterion('prediction', 'Prediction', [0.2, 0.5, 0.8]), criterion('clearing', 'Clearing', [0.4])],
        skills: [criterion('halving', 'Halving', [0.6])],
      },
    });
  });
  afterEach(() => {
    project(false);
    vi.restoreAllMocks();
  });

  it('has a picture for each line of the sheet, with the last week in figures', async () => {
    const figure = (await screen.findAllByText('80 %'))[0]?.closest('figure');
    expect(figure).toHaveAttribute('data-criterion', 'prediction');
    const said = within(figure!).getByRole('img').getAttribute('aria-label');
    expect(said).toMatch(/week of .*: 20 % of 4; .*: 50 % of 4; .*: 80 % of 4/);
    expect(within(figure!).getByText(/12 sheets/)).toBeInTheDocument();
    expect(screen.getByRole('heading', { name: 'Skill by skill' })).toBeInTheDocument();
    expect(screen.getAllByText('60 %')[0]?.closest('figure')).toHaveAttribute('data-criterion', 'halving');
    // Better is higher.
    const points = figure!.querySelector('polyline')!.getAttribute('points')!.split(' ');
    const heights = points.map((p) => Number(p.split(',')[1]));
    expect(heights).toEqual([...heights].sort((a, b) => b - a));
  });

  it('has each student by name, in order', async () => {
    const [lines, skills] = await screen.findAllByRole('table');
    const rows = within(lines!).getAllByRole('row').slice(1);
    expect(rows.map((r) => within(r).getByRole('rowheader').textContent)).toEqual(['I. Varga', 'T. Oduya']);
    expect(rows[0]).toHaveTextContent('I. Varga80 %40 %3');
    const bySkill = within(skills!).getAllByRole('row');
    expect(bySkill[0]).toHaveTextContent('StudentHalving');
    expect(bySkill[1]).toHaveTextContent('I. Varga60 %');
    expect(within(bySkill[1]!).getByText('60 %')).toHaveAttribute('title', 'of 3 sheets');
  });

  it('names nobody while it is projected', async () => {
    project(true);
    expect(await screen.findByText(/Names and marks are hidden/)).toBeInTheDocument();
    expect(screen.queryByText('I. Varga')).toBeNull();
  });
});

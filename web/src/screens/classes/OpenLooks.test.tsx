import { screen } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';

import { served } from '../../test/served';
import { OpenLooks } from './OpenLooks';

const look = {
  attempt: 7,
  student: 'I. Varga',
  lesson: 'Tug',
  criterion: 'approach',
  asked: 'I tried it.',
  asked_at: 1,
};

describe('second looks that wait', () => {
  afterEach(() => vi.restoreAllMocks());

  it('lead to their sheets', async () => {
    served(<OpenLooks />, { '/api/second-looks': [look] });
    expect(await screen.findByRole('link', { name: 'I. Varga, Tug' })).toHaveAttribute('href', '/attempts/7/sheet');
    expect(screen.getByText(/I tried it/)).toBeInTheDocument();
  });

  it('take no room where there are none', async () => {
    served(<OpenLooks />, { '/api/second-looks': [] });
    await new Promise((done) => setTimeout(done));
    expect(screen.queryByRole('heading')).toBeNull();
  });
});

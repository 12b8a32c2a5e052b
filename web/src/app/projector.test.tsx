import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, it } from 'vitest';

import { Private, PrivatePart, project, ProjectorSwitch } from './projector';

describe('the projector', () => {
  afterEach(() => project(false));

  const page = () =>
    render(
      <>
        <ProjectorSwitch />
        <p>
          <Private instead="Bench 3">I. Varga</Private> measured
        </p>
        <PrivatePart what="Marks are">
          <p>63.1</p>
        </PrivatePart>
      </>,
    );

  it('shows everything until it is switched on', async () => {
    page();
    expect(screen.getByText(/I\. Varga/)).toBeInTheDocument();
    expect(screen.getByRole('button', { name: 'Projector' })).toHaveAttribute('aria-pressed', 'false');
    await userEvent.click(screen.getByRole('button', { name: 'Projector' }));
    expect(screen.queryByText(/I\. Varga/)).toBeNull();
    expect(screen.queryByText('63.1')).toBeNull();
    expect(screen.getByText('Bench 3')).toBeInTheDocument();
    expect(screen.getByText(/Marks are hidden while this is projected/)).toBeInTheDocument();
  });

  it('is switched off where something is hidden', async () => {
    project(true);
    page();
    await userEvent.click(screen.getByRole('button', { name: 'Project no more' }));
    expect(screen.getByText('63.1')).toBeInTheDocument();
  });

  it('holds for every window of the browser', () => {
    page();
    // As another window does it.
    window.localStorage.setItem('cimento.projecting', 'yes');
    window.dispatchEvent(new StorageEvent('storage'));
    return screen.findByText('Bench 3');
  });
});

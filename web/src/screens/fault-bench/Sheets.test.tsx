import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it } from 'vitest';

import { served } from '../../test/served';
import { Sheets, useSheets, type SheetKind } from './Sheets';

const row = (title: string, faulty: boolean) => ({ title, reads: '0.9 V', is: faulty ? 'renew' : 'keep', faulty });
const sheet = (title: string, rows: object[]) => ({ title, task: { kind: 'survey' }, rows });

function Chosen({ kind }: { kind: SheetKind }) {
  const filling = useSheets({ circuit: 1, version: 1, faults: [] }, kind);
  return (
    <>
      <Sheets {...filling} />
      <output>{filling.sheet?.title}</output>
    </>
  );
}

describe('which sheet is filled in', () => {
  beforeEach(() => document.body.replaceChildren());
  const found = {
    '/api/circuits/{id}/test-sheets': {
      surveys: [sheet('start, up to 170 A', [row('W1', true), row('W2', false)]), sheet('run, up to 9 A', [])],
      checks: [],
      identify: [],
    },
  };

  it('takes the first, shows what each row is, and another when asked', async () => {
    served(<Chosen kind="surveys" />, {}, found);
    expect(await screen.findByText('W1')).toBeInTheDocument();
    expect(screen.getByText(/2 rows, 1 with something wrong/)).toBeInTheDocument();
    await userEvent.selectOptions(screen.getByLabelText('Of'), 'run, up to 9 A');
    expect(document.querySelector('output')).toHaveTextContent('run, up to 9 A');
  });

  it('says why there is none', async () => {
    served(<Chosen kind="checks" />, {}, found);
    expect(await screen.findByText(/No harness of this machine/)).toBeInTheDocument();
  });
});

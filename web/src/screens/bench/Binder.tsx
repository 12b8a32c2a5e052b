// The binder that a machine comes with: its contents, and the sheets that have been opened, a minute each.
import { useQuery } from '@tanstack/react-query';
import { Button, Modal } from 'antd';
import { useState, type Ref } from 'react';

import { api, ask, type Action, type AttemptView } from '../../api/client';
import { Diagram } from '../../diagram/Diagram';
import { Loom } from './Loom';
import './Binder.css';

type Props = { attempt: AttemptView; act: (action: Action) => Promise<unknown>; button?: Ref<HTMLButtonElement> };

const none = {};
const nothing = () => undefined;

export function Binder({ attempt, act, button }: Props) {
  const [open, setOpen] = useState(false);
  const [shown, setShown] = useState('');
  const { opened = [], handed_in } = attempt.bench;
  const { binder } = attempt;
  if (binder.length === 0) return null;
  const lookUp = async (sheet: string) => {
    if (!opened.includes(sheet) && !(await act({ do: 'open_sheet', sheet }))) return;
    setShown(sheet);
  };
  return (
    <>
      <Button ref={button} id="binder" className="inline-link" size="small" type="link" onClick={() => setOpen(true)}>
        Binder{opened.length > 0 && ` (${opened.length} of ${binder.length})`}
      </Button>
      <Modal
        title="The binder"
        className="high-modal"
        open={open}
        onCancel={() => setOpen(false)}
        footer={null}
        width={1180}
      >
        <div className="binder">
          <nav aria-label="Contents of the binder">
            <p className="quiet close">A sheet takes a minute to look up, and lies open from then on.</p>
            <ul>
              {binder.map(({ sheet, title }) => (
                <li key={sheet}>
                  <Button
                    block
                    data-sheet={sheet}
                    aria-current={shown === sheet ? 'page' : undefined}
                    type={opened.includes(sheet) ? 'default' : 'dashed'}
                    disabled={handed_in && !opened.includes(sheet)}
                    onClick={() => void lookUp(sheet)}
                  >
                    <span>{title}</span> {!opened.includes(sheet) && <span className="quiet">1 min</span>}
                  </Button>
                </li>
              ))}
            </ul>
          </nav>
          {shown && opened.includes(shown) ? (
            <OpenSheet attempt={attempt} sheet={shown} act={act} />
          ) : (
            <p className="quiet" role="status">
              {opened.length === 0 ? 'Nothing lies open yet.' : 'Choose a sheet.'}
            </p>
          )}
        </div>
      </Modal>
    </>
  );
}

/** A sheet that lies open. */
function OpenSheet({ attempt, sheet, act }: Omit<Props, 'button'> & { sheet: string }) {
  const found = useQuery({
    queryKey: ['binder', attempt.id, sheet],
    queryFn: () => ask(api.GET('/api/attempts/{id}/binder/{sheet}', { params: { path: { id: attempt.id, sheet } } })),
    staleTime: Infinity,
  });
  const { doubted = [], handed_in } = attempt.bench;
  if (found.error)
    return (
      <p className="error-line" role="alert">
        {found.error.message} <Button onClick={() => void found.refetch()}>Try again</Button>
      </p>
    );
  if (!found.data) return <p className="quiet">Looking it up …</p>;
  const { title, about, tables, looms, drawing } = found.data;
  return (
    <div className="open-sheet" role="group" aria-label={title} tabIndex={0}>
      <h2>{title}</h2>
      {about && <p className="quiet close">{about}</p>}
      {drawing && (
        <div className="diagram">
          <Diagram drawing={drawing} marks={none} onPoint={nothing} still />
        </div>
      )}
      {tables.map((table) => {
        const { connector } = table;
        const sketched = looms?.find((loom) => loom.title === table.title);
        const said = doubted.some((d) => d.sheet === sheet && d.at === connector);
        return (
          <div key={table.title}>
            {sketched && <Loom loom={sketched} />}
            <table className="sheet-table">
              <caption>
                {table.title}{' '}
                {connector &&
                  (said ? (
                    <b>another variant’s, you said</b>
                  ) : (
                    <Button
                      size="small"
                      type="link"
                      className="inline-link"
                      disabled={handed_in}
                      aria-label={`${connector} is not so on this machine`}
                      onClick={() => void act({ do: 'doubt_sheet', sheet, at: connector })}
                    >
                      not so on this machine
                    </Button>
                  ))}
              </caption>
              <thead>
                <tr>
                  {table.head.map((text, n) => (
                    <th key={n}>{text}</th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {table.rows.map((row, n) => (
                  <tr key={n}>
                    {row.map((text, at) => (
                      <td key={at}>{text}</td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        );
      })}
    </div>
  );
}

// Earlier versions of the circuit, to go back to. Going back is a change like any other: it can be undone.
import { useQuery } from '@tanstack/react-query';
import { Button, Modal } from 'antd';
import { useState } from 'react';

import { api, ask, type CircuitDoc } from '../../api/client';

type Props = { circuit: number; onTake: (doc: CircuitDoc) => void };

export function Versions({ circuit, onTake }: Props) {
  const [open, setOpen] = useState(false);
  const kept = useQuery({
    queryKey: ['versions', circuit],
    queryFn: () => ask(api.GET('/api/circuits/{id}/versions', { params: { path: { id: circuit } } })),
    enabled: open,
    gcTime: 0,
  });
  const take = async (version: number) => {
    onTake(await ask(api.GET('/api/circuits/{id}/versions/{version}', { params: { path: { id: circuit, version } } })));
    setOpen(false);
  };
  return (
    <>
      <Button size="small" id="versions" onClick={() => setOpen(true)}>
        Versions
      </Button>
      <Modal title="Earlier versions" open={open} onCancel={() => setOpen(false)} footer={null}>
        <p className="quiet">
          One is kept before each change that follows a pause of five minutes. Lessons that were given out keep the
          circuit they were given with.
        </p>
        {kept.error && <p className="error-line">{kept.error.message}</p>}
        {kept.data?.length === 0 && <p>None yet.</p>}
        <table className="sheet-table">
          <tbody>
            {kept.data?.map((v) => (
              <tr key={v.version}>
                <td>version {v.version}</td>
                <td className="quiet">{new Date(v.changed_at * 1000).toLocaleString()}</td>
                <td>
                  <Button size="small" onClick={() => void take(v.version)}>
                    Take this one
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </Modal>
    </>
  );
}

// Who did what to whom, for who looks after the people.
import { useQuery } from '@tanstack/react-query';
import { Button, Modal } from 'antd';
import { useState } from 'react';

import { api, ask } from '../../api/client';

const moment = (at: number) =>
  new Date(at * 1000).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' });

export function Audit() {
  const [open, setOpen] = useState(false);
  const lines = useQuery({
    queryKey: ['audit'],
    queryFn: () => ask(api.GET('/api/audit')),
    enabled: open,
    staleTime: 0,
  });
  return (
    <>
      <Button id="audit" onClick={() => setOpen(true)}>
        Who did what
      </Button>
      <Modal
        title="Who did what to whom"
        className="high-modal"
        open={open}
        onCancel={() => setOpen(false)}
        footer={null}
      >
        {lines.error && <p className="error-line">{lines.error.message}</p>}
        {lines.data?.length === 0 && <p className="quiet">Nothing yet.</p>}
        <ul className="roster-changes">
          {lines.data?.map((line, n) => (
            <li key={n}>
              <span className="quiet">{moment(line.at)}</span> {line.actor} {line.act} {line.whom}
            </li>
          ))}
        </ul>
      </Modal>
    </>
  );
}

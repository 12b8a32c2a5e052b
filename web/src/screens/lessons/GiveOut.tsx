// Giving a lesson out that was made before.
import { Button, Modal } from 'antd';
import { useState } from 'react';

import { api, ask } from '../../api/client';
import { bodyOf, countOf, GivingTo, useGiving } from '../classes/Giving';
import { useChange } from '../classes/useClasses';

export function GiveOut({ lesson, title }: { lesson: number; title: string }) {
  const [open, setOpen] = useState(false);
  const giving = useGiving();
  const { klass, given } = giving;
  const { change, error } = useChange();
  const give = async () => {
    if (!klass) return;
    const body = bodyOf(given, klass, lesson);
    if (await change(() => ask(api.POST('/api/assignments', { body })))) setOpen(false);
  };
  return (
    <>
      <Button
        size="small"
        data-give={lesson}
        onClick={() => {
          giving.reset();
          setOpen(true);
        }}
      >
        Give out
      </Button>
      <Modal
        title={`Give out ${title}`}
        width={680}
        open={open}
        okText="Give out"
        okButtonProps={{ id: 'give-out', disabled: !klass || (given.students && countOf(given, klass) === 0) }}
        onOk={() => void give()}
        onCancel={() => setOpen(false)}
        destroyOnHidden
      >
        <GivingTo {...giving} />
        <div role="alert" className="error-line">
          {error}
        </div>
      </Modal>
    </>
  );
}

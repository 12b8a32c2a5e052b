// A class's code: shown large to be read from the board, renewed, taken away, printed.
import { Button, Modal, Popconfirm } from 'antd';
import { useState } from 'react';

import { api, ask } from '../../api/client';
import '../../app/Cards.css';
import { studentsOf, type Class, type useChange } from './useClasses';

export function CodeOf({ one, change }: { one: Class; change: ReturnType<typeof useChange>['change'] }) {
  const [open, setOpen] = useState(false);
  const path = { params: { path: { id: one.id } } };
  const renew = () => change(() => ask(api.PUT('/api/classes/{id}/code', path)));
  const teaches = one.own_role === 'instructor';
  if (!one.code) {
    if (!teaches || one.over) return null;
    return (
      <Button type="link" size="small" onClick={() => void renew()} aria-label={`Make a sign-in code: ${one.name}`}>
        Make a sign-in code
      </Button>
    );
  }
  return (
    <>
      <Button type="link" size="small" onClick={() => setOpen(true)} aria-label={`Sign-in code: ${one.name}`}>
        Sign-in code
      </Button>
      <Modal title={one.name} open={open} onCancel={() => setOpen(false)} footer={null} width={720}>
        <p className="quiet no-print">
          Students choose “I have a class code” where one signs in, give this code, pick their name, and the first time
          think of a PIN. Show it to them alone: whoever has it sees their names.
        </p>
        <p className="class-code" data-code>
          {one.code}
        </p>
        <section className="sign-in-cards" aria-label="Sign-in cards">
          <ul>
            {studentsOf(one).map((s) => (
              <li key={s.id}>
                <strong>{s.display}</strong>
                <span>
                  At <code>{window.location.host}</code>
                </span>
                <span>
                  Class code <code>{one.code}</code>
                </span>
              </li>
            ))}
          </ul>
        </section>
        <div className="row no-print">
          <Button onClick={() => window.print()}>Print cards</Button>
          {teaches && (
            <>
              <Popconfirm
                title="Make another code?"
                description="The present one opens nothing more."
                okText="Make it"
                cancelText="Leave it"
                onConfirm={() => void renew()}
              >
                <Button>Another code</Button>
              </Popconfirm>
              <Button
                onClick={() => {
                  setOpen(false);
                  void change(() => ask(api.DELETE('/api/classes/{id}/code', path)));
                }}
              >
                Take the code away
              </Button>
            </>
          )}
        </div>
      </Modal>
    </>
  );
}

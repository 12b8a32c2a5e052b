// The customer, who may be asked, and the workshop's book: words, a minute each, that may be wrong.
import { Button, Modal } from 'antd';
import { useState, type Ref } from 'react';

import type { Action, AttemptView } from '../../api/client';
import './Customer.css';

type Props = { attempt: AttemptView; act: (action: Action) => Promise<unknown>; button?: Ref<HTMLButtonElement> };

export function Customer({ attempt, act, button }: Props) {
  const [open, setOpen] = useState(false);
  const { told = [], handed_in } = attempt.bench;
  const book = told.find((t) => !t.asked);
  if (attempt.questions.length === 0) return null;
  return (
    <>
      <Button ref={button} id="ask" className="inline-link" size="small" type="link" onClick={() => setOpen(true)}>
        Ask{told.length > 0 && ` (${told.length})`}
      </Button>
      <Modal title="The customer, and earlier work" open={open} onCancel={() => setOpen(false)} footer={null}>
        <p className="quiet close">
          Words, a minute each. A customer may be wrong, and a part that is new on record may be bad or the wrong one:
          they rule nothing out.
        </p>
        <dl className="told">
          {attempt.questions.map(({ question, text }) => {
            const answer = told.find((t) => t.asked === question);
            return (
              <div key={question} data-question={question}>
                <dt>{text}</dt>
                <dd>
                  {answer ? (
                    `“${answer.text}”`
                  ) : (
                    <Button
                      size="small"
                      disabled={handed_in}
                      aria-label={`Ask: ${text}`}
                      onClick={() => void act({ do: 'ask_customer', question })}
                    >
                      Ask
                    </Button>
                  )}
                </dd>
              </div>
            );
          })}
          <div data-question="book">
            <dt>Earlier work on it</dt>
            <dd>
              {book ? (
                <span className="lines">{book.text}</span>
              ) : (
                <Button size="small" disabled={handed_in} onClick={() => void act({ do: 'read_history' })}>
                  Look it up
                </Button>
              )}
            </dd>
          </div>
        </dl>
      </Modal>
    </>
  );
}

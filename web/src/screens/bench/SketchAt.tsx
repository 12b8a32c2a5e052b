// A mark on the diagram at the chosen place: words, or an arrow to another place. It is one's own and costs nothing.
import { Button, Input, Modal, Select, type InputRef } from 'antd';
import { useRef, useState } from 'react';

import type { AttemptView } from '../../api/client';
import type { OwnSketch } from './useSketch';

type Props = { attempt: AttemptView; sketch: OwnSketch; place: string; onClose: () => void };

/** What is written most often. */
const WORDS = ['measured here', '?', 'good up to here'];

export function SketchAt({ attempt, sketch, place, onClose }: Props) {
  const [text, setText] = useState('');
  const [to, setTo] = useState<string>();
  const words = useRef<InputRef>(null);
  const here = sketch.marks.filter((m) => m.at === place);
  const ends = [...attempt.places.map((p) => p.id), ...attempt.drawing.points.map((p) => p.id)];
  const keep = async (marks: OwnSketch['marks']) => {
    try {
      await sketch.keep(marks);
      onClose();
    } catch {
      // It stays open, with what was written and with what hindered it.
    }
  };
  const put = (words: string) => keep([...sketch.marks, { at: place, to, text: words.trim() }]);
  return (
    <Modal
      title={`Your mark at ${place}`}
      open
      onCancel={onClose}
      footer={null}
      destroyOnHidden
      afterOpenChange={(shown) => shown && words.current?.focus()}
    >
      <form
        className="stack"
        onSubmit={(e) => {
          e.preventDefault();
          void put(text);
        }}
      >
        <p className="quiet close">It is yours: nobody marks it, and it is there in every lesson on this machine.</p>
        <Input
          id="sketch-text"
          ref={words}
          aria-label="Words"
          maxLength={60}
          value={text}
          placeholder="words, such as 12.4 V with the key on"
          onChange={(e) => setText(e.target.value)}
        />
        <label>
          <span className="field-label">An arrow to</span>
          <Select
            id="sketch-to"
            className="whole-width"
            showSearch
            allowClear
            placeholder="no arrow"
            value={to}
            onChange={setTo}
            options={[...new Set(ends)].filter((id) => id !== place).map((id) => ({ value: id, label: id }))}
          />
        </label>
        <div className="row">
          {WORDS.map((w) => (
            <Button key={w} onClick={() => void put(w)}>
              {w}
            </Button>
          ))}
          <Button id="sketch-put" type="primary" htmlType="submit" disabled={text.trim() === '' && !to}>
            Put it there
          </Button>
        </div>
        {here.length > 0 && (
          <ul className="spaced-list">
            {here.map((mark, n) => (
              <li key={n}>
                {mark.text} {mark.to && `→ ${mark.to}`}{' '}
                <Button
                  size="small"
                  aria-label={`Rub out ${mark.text || mark.to}`}
                  onClick={() => void keep(sketch.marks.filter((m) => m !== mark))}
                >
                  Rub out
                </Button>
              </li>
            ))}
          </ul>
        )}
        <div role="alert" className="error-line">
          {sketch.error?.message}
        </div>
      </form>
    </Modal>
  );
}

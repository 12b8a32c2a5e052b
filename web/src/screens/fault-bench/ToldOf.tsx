// What the customer answers and what the workshop's book says of earlier work: words that may lead astray.
import { Button, Checkbox, Collapse, Input } from 'antd';

import type { Schemas } from '../../api/client';
import './ToldOf.css';

export type Told = Schemas['ToldOfMachine'];
type Props = { told: Told; onChange: (told: Told) => void; usual: Schemas['Usual'] };

const NEW = { when: '', what: '' };

export function ToldOf({ told, onChange, usual }: Props) {
  const answers = told.answers ?? [];
  const earlier = told.earlier ?? [];
  const answer = (question: (typeof answers)[number]['question'], part: { says?: string; misleads?: boolean }) => {
    const old = answers.find((a) => a.question === question);
    const new_ = { question, says: '', ...old, ...part };
    const others = answers.filter((a) => a.question !== question);
    onChange({ ...told, answers: new_.says === '' ? others : [...others, new_] });
  };
  const line = (at: number, part: Partial<(typeof earlier)[number]>) =>
    onChange({ ...told, earlier: earlier.map((e, n) => (n === at ? { ...e, ...part } : e)) });
  const count = answers.length + earlier.length;
  return (
    <Collapse
      size="small"
      items={[
        {
          key: 'told',
          label: `The customer’s answers and earlier work${count > 0 ? ` · ${count}` : ''}`,
          children: (
            <div className="stack">
              <p className="quiet close">
                Words alone: they rule nothing out. What leads astray is said when the work is gone through.
              </p>
              {usual.questions.map(({ question, text }) => {
                const own = answers.find((a) => a.question === question);
                return (
                  <div key={question} className="told-line">
                    <label>
                      <span>{text}</span>
                      <Input
                        size="small"
                        id={`says-${question}`}
                        value={own?.says ?? ''}
                        maxLength={300}
                        placeholder="as somebody who has noticed"
                        onChange={(e) => answer(question, { says: e.target.value })}
                      />
                    </label>
                    <Checkbox
                      disabled={!own}
                      checked={!!own?.misleads}
                      onChange={(e) => answer(question, { misleads: e.target.checked })}
                    >
                      leads astray
                    </Checkbox>
                  </div>
                );
              })}
              {earlier.map((e, n) => (
                <div key={n} className="told-line" data-earlier={n}>
                  <Input
                    size="small"
                    aria-label={`When, line ${n + 1}`}
                    value={e.when}
                    maxLength={300}
                    placeholder="in March"
                    onChange={(v) => line(n, { when: v.target.value })}
                  />
                  <Input
                    size="small"
                    aria-label={`What was done, line ${n + 1}`}
                    value={e.what}
                    maxLength={300}
                    placeholder="Battery renewed."
                    onChange={(v) => line(n, { what: v.target.value })}
                  />
                  <Checkbox checked={!!e.misleads} onChange={(v) => line(n, { misleads: v.target.checked })}>
                    leads astray
                  </Checkbox>
                  <Button
                    size="small"
                    aria-label={`Take line ${n + 1} out`}
                    onClick={() => onChange({ ...told, earlier: earlier.filter((_, at) => at !== n) })}
                  >
                    ×
                  </Button>
                </div>
              ))}
              <div>
                <Button size="small" onClick={() => onChange({ ...told, earlier: [...earlier, NEW] })}>
                  Another line of earlier work
                </Button>
              </div>
            </div>
          ),
        },
      ]}
    />
  );
}

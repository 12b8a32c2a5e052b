// What a lesson allows, shows and counts, where that is not as usual.
import { useQuery } from '@tanstack/react-query';
import { Checkbox, Collapse, InputNumber, Select } from 'antd';

import { api, ask, type Schemas } from '../../api/client';
import { CraftOf } from './CraftOf';
import { PricesOf } from './PricesOf';
import './LessonRules.css';

export type Rules = Schemas['Rules'];
type Limits = Schemas['Limits'];

const LIMITS: [Exclude<keyof Limits, 'lead_ohms'>, string, string][] = [
  ['wire_v', 'along a wire', 'V'],
  ['contact_v', 'across a contact', 'V'],
  ['ground_v', 'along a ground', 'V'],
  ['connection_v', 'at a connection', 'V'],
  ['ohms_share', 'of a resistance', '%'],
];

/** What can be forbidden, and the rules as they usually are, once they are known. */
export function useUsual(enabled: boolean) {
  return useQuery({
    queryKey: ['usual'],
    queryFn: () => ask(api.GET('/api/lessons/usual')),
    enabled,
    staleTime: Infinity,
  }).data;
}

type Props = {
  rules: Rules;
  onChange: (rules: Rules) => void;
  usual: Schemas['Usual'];
  marked: boolean;
  /** A fault is looked for. */
  finds: boolean;
};

export function LessonRules({ rules, onChange, usual, marked, finds }: Props) {
  const change = (part: Partial<Rules>) => onChange({ ...rules, ...part });
  const { weights, limits, papers, forbidden } = rules;
  const counts = (name: string) => name !== 'safety' && (name !== 'craft' || !!rules.craft);
  const sum = Object.entries(weights).reduce((all, [name, w]) => (counts(name) ? all + w : all), 0);
  return (
    <Collapse
      size="small"
      items={[
        {
          key: 'allowed',
          label: 'What students may do and see',
          children: (
            <div className="rules">
              <Checkbox id="rule-scope" checked={rules.scope} onChange={(e) => change({ scope: e.target.checked })}>
                the oscilloscope
              </Checkbox>
              {usual.means.map(({ means, text }) => (
                <Checkbox
                  key={means}
                  id={`rule-${means}`}
                  checked={!forbidden.includes(means)}
                  onChange={(e) =>
                    change({
                      forbidden: e.target.checked ? forbidden.filter((m) => m !== means) : [...forbidden, means],
                    })
                  }
                >
                  {text}
                </Checkbox>
              ))}
              <Checkbox
                id="rule-diagram"
                checked={papers.diagram}
                onChange={(e) => change({ papers: { ...papers, diagram: e.target.checked } })}
              >
                see the diagram
              </Checkbox>
              <Checkbox
                checked={papers.connectors}
                onChange={(e) => change({ papers: { ...papers, connectors: e.target.checked } })}
              >
                see the connectors’ faces
              </Checkbox>
              <Checkbox
                id="rule-healthy"
                checked={papers.healthy}
                onChange={(e) => change({ papers: { ...papers, healthy: e.target.checked } })}
              >
                see what a healthy machine reads
              </Checkbox>
            </div>
          ),
        },
        {
          key: 'course',
          label: 'Time, method and repair',
          children: (
            <div className="stack">
              <label className="row">
                <span>Time limit, minutes</span>
                <InputNumber
                  id="rule-limit"
                  min={1}
                  max={600}
                  value={rules.limit_minutes}
                  placeholder="no limit"
                  onChange={(v) => change({ limit_minutes: v })}
                />
              </label>
              {finds && (
                <Checkbox
                  id="rule-look-alikes"
                  checked={rules.look_alikes}
                  onChange={(e) => change({ look_alikes: e.target.checked })}
                >
                  Plugs that look alike are put back crossed, unless one of them bears a label
                </Checkbox>
              )}
              {finds && <CraftOf rules={rules} usual={usual} change={change} />}
              {finds && marked && <PricesOf rules={rules} usual={usual} change={change} />}
              <p className="quiet close">
                Where schools differ, students are told which one you ask for; going by another is a small slip.
              </p>
              {usual.schools.map(({ about, schools }) => {
                const both = schools.map((s) => s.school);
                return (
                  <label key={about} className="school-row">
                    <span>{about}</span>
                    <Select
                      id={`school-${about.replaceAll(' ', '-')}`}
                      size="small"
                      value={rules.method.find((s) => both.includes(s)) ?? ''}
                      onChange={(chosen: Rules['method'][number] | '') =>
                        change({
                          method: [...rules.method.filter((s) => !both.includes(s)), ...(chosen ? [chosen] : [])],
                        })
                      }
                      options={[
                        { value: '' as const, label: 'either way' },
                        ...schools.map(({ school, text }) => ({ value: school, label: text })),
                      ]}
                    />
                  </label>
                );
              })}
            </div>
          ),
        },
        {
          key: 'marks',
          label: marked ? `Marks and limits · ${sum} marks, scaled to 100` : 'Limits',
          children: (
            <div className="rules">
              {marked &&
                Object.entries(weights)
                  .filter(([name]) => name !== 'craft' || rules.craft)
                  .map(([name, value]) => (
                    <label key={name} className="row">
                      <InputNumber
                        size="small"
                        id={`weight-${name}`}
                        min={0}
                        max={100}
                        value={value}
                        onChange={(v) => change({ weights: { ...weights, [name]: v ?? 0 } })}
                      />
                      <span>{name === 'safety' ? 'off for safety' : name}</span>
                    </label>
                  ))}
              <label className="row">
                <InputNumber
                  size="small"
                  id="limit-lead_ohms"
                  min={0}
                  step={1}
                  placeholder="by length"
                  value={limits.lead_ohms ? limits.lead_ohms / 1000 : null}
                  onChange={(v) => change({ limits: { ...limits, lead_ohms: v ? v * 1000 : null } })}
                />
                <span>kΩ at most of any high-voltage lead</span>
              </label>
              {LIMITS.map(([name, text, unit]) => (
                <label key={name} className="row">
                  <InputNumber
                    size="small"
                    id={`limit-${name}`}
                    min={0}
                    step={unit === '%' ? 1 : 0.05}
                    value={unit === '%' ? Math.round(limits[name] * 100) : limits[name]}
                    onChange={(v) =>
                      change({ limits: { ...limits, [name]: unit === '%' ? (v ?? 0) / 100 : (v ?? 0) } })
                    }
                  />
                  <span>
                    {unit} {text}
                  </span>
                </label>
              ))}
            </div>
          ),
        },
      ]}
    />
  );
}

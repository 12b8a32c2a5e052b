// What minutes and parts cost the customer: shown on the sheet, never marked.
import { Checkbox, Input, InputNumber } from 'antd';

import type { Schemas } from '../../api/client';
import type { Rules } from './LessonRules';

type Prices = Schemas['Prices'];
type Props = { rules: Rules; usual: Schemas['Usual']; change: (part: Partial<Rules>) => void };

const FIRST: ['hour' | 'material' | 'part', string][] = [
  ['hour', 'an hour of work'],
  ['material', 'material of a repair'],
  ['part', 'any other part'],
];

export function PricesOf({ rules, usual, change }: Props) {
  const prices = rules.prices;
  const set = (part: Partial<Prices>) => prices && change({ prices: { ...prices, ...part } });
  return (
    <div className="stack close">
      <Checkbox
        id="rule-prices"
        checked={!!prices}
        onChange={(e) => change({ prices: e.target.checked ? usual.prices : null })}
      >
        The sheet says what it costs the customer, beside the best way
      </Checkbox>
      {prices && (
        <div className="rules">
          <label className="row">
            <Input
              size="small"
              id="price-money"
              value={prices.money}
              onChange={(e) => set({ money: e.target.value })}
            />
            <span>money</span>
          </label>
          {FIRST.map(([name, text]) => (
            <label key={name} className="row">
              <InputNumber
                size="small"
                id={`price-${name}`}
                min={0}
                value={prices[name]}
                onChange={(v) => set({ [name]: v ?? 0 })}
              />
              <span>{text}</span>
            </label>
          ))}
          {Object.entries(prices.parts ?? {}).map(([kind, price]) => (
            <label key={kind} className="row">
              <InputNumber
                size="small"
                id={`price-${kind}`}
                min={0}
                value={price}
                onChange={(v) => set({ parts: { ...prices.parts, [kind]: v ?? 0 } })}
              />
              <span>{kind.replaceAll('_', ' ')}</span>
            </label>
          ))}
        </div>
      )}
    </div>
  );
}

// On which terms a lesson is given: from when until when, how often, and when its marks show.
import { DatePicker, Input, InputNumber, Select } from 'antd';
import dayjs from 'dayjs';

import type { Schemas } from '../../api/client';
import './Classes.css';

export type TermsOf = Schemas['TermsView'];

export const USUAL: TermsOf = {
  opens_at: null,
  due_at: null,
  closes_at: null,
  attempts: 1,
  counts: 'best',
  sheets: 'all_done',
  category: '',
};

const SHEETS = [
  { value: 'all_done', label: 'when everybody has handed in, or it closes' },
  { value: 'handed_in', label: 'as soon as they hand in' },
  { value: 'released', label: 'when I release them' },
];
const COUNTS = [
  { value: 'best', label: 'the best' },
  { value: 'last', label: 'the last' },
  { value: 'mean', label: 'their mean' },
];

export function Terms({ terms, onChange }: { terms: TermsOf; onChange: (terms: TermsOf) => void }) {
  const moment = (name: 'opens_at' | 'due_at' | 'closes_at', label: string, without: string) => (
    <label>
      <span className="field-label">{label}</span>
      <DatePicker
        id={name}
        className="terms-moment"
        placeholder={without}
        showTime={{ format: 'HH:mm' }}
        format="D MMM YYYY HH:mm"
        value={terms[name] ? dayjs(terms[name] * 1000) : null}
        onChange={(at) => onChange({ ...terms, [name]: at ? at.second(0).unix() : null })}
        needConfirm={false}
      />
    </label>
  );
  const several = (terms.attempts ?? 1) > 1;
  return (
    <div className="stack" role="group" aria-label="Terms">
      <div className="row">
        {moment('opens_at', 'Opens', 'at once')}
        {moment('due_at', 'Due', 'no date')}
        {moment('closes_at', 'Closes', 'never')}
      </div>
      <label>
        <span className="field-label">Category, as the book weighs it</span>
        <Input
          id="terms-category"
          maxLength={40}
          placeholder="none"
          value={terms.category}
          onChange={(e) => onChange({ ...terms, category: e.target.value })}
        />
      </label>
      <div className="row">
        <label>
          <span className="field-label">Attempts</span>
          <InputNumber
            id="terms-attempts"
            min={1}
            max={20}
            value={terms.attempts}
            onChange={(attempts) => onChange({ ...terms, attempts: attempts ?? 1 })}
          />
        </label>
        {several && (
          <label>
            <span className="field-label">Of which counts</span>
            <Select
              id="terms-counts"
              showSearch={{ optionFilterProp: 'label' }}
              value={terms.counts}
              options={COUNTS}
              onChange={(counts) => onChange({ ...terms, counts })}
            />
          </label>
        )}
        <label className="grow">
          <span className="field-label">Students see their mark sheet</span>
          <Select
            id="terms-sheets"
            showSearch={{ optionFilterProp: 'label' }}
            className="whole-width"
            value={terms.sheets}
            options={SHEETS}
            onChange={(sheets) => onChange({ ...terms, sheets })}
          />
        </label>
      </div>
    </div>
  );
}

/** Terms in words. */
export function inWords(terms: TermsOf, released: boolean): string {
  const day = (at: number) =>
    new Date(at * 1000).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' });
  const words = [
    terms.category ?? '',
    terms.opens_at ? `opens ${day(terms.opens_at)}` : '',
    terms.due_at ? `due ${day(terms.due_at)}` : '',
    terms.closes_at ? `closes ${day(terms.closes_at)}` : '',
    (terms.attempts ?? 1) > 1
      ? `${terms.attempts} attempts, ${COUNTS.find((c) => c.value === terms.counts)?.label} counts`
      : '',
    released ? 'marks released' : `marks show ${SHEETS.find((s) => s.value === terms.sheets)?.label}`,
  ];
  return words.filter((w) => w !== '').join(' · ');
}

// The faults on the bench: what is set, and a form for the next one.
import { Button, Select, Slider } from 'antd';
import { memo, useEffect, useState, type ReactNode } from 'react';

import type { FaultDoc, PlaceInfo } from '../../api/client';
import { STEPS, stepOf, valueOf } from './severity';
import './FaultEditor.css';

type Props = {
  places: PlaceInfo[];
  faults: FaultDoc[];
  onChange: (faults: FaultDoc[]) => void;
  /** The place that the next fault is for. */
  placeId?: string;
  onPlace: (id?: string) => void;
  /** What the form says now, not set yet. */
  onTry: (fault?: FaultDoc) => void;
  /** What that changes. */
  told?: ReactNode;
};

/** How bad a fault is, as one says it: "20 %", "2 Ω". */
function severityOf(fault: FaultDoc): string {
  const given = fault.severity;
  if (!given) return '';
  return given.unit === 'share' ? `${given.value * 100} %` : `${given.value} ${given.unit ?? ''}`;
}

/** When a fault is there. */
const WHEN = ['always', 'hot', 'moved', 'wet', 'vibrating'];

/** Drawn again only when faults or places change: its lists are long. */
export const FaultEditor = memo(function FaultEditor(props: Props) {
  const { places, faults, onChange, placeId, onPlace, onTry, told } = props;
  const [modeName, setModeName] = useState<string>();
  const [severity, setSeverity] = useState('');
  const [other, setOther] = useState<string>();
  const [when, setWhen] = useState('always');
  const [error, setError] = useState('');
  const place = places.find((p) => p.id === placeId);
  const modes = place?.modes ?? [];
  const mode = modes.find((m) => m.mode === modeName);
  // Another place: what is set there is what one goes on from.
  const [was, setWas] = useState(placeId);
  if (was !== placeId) {
    const set = faults.find((f) => f.place === placeId);
    setWas(placeId);
    setModeName(set?.mode);
    setSeverity(set?.severity ? String(set.severity.value) : '');
    setOther(set?.other ?? undefined);
    setWhen(set?.when ?? 'always');
    setError('');
  }
  // What a fault can lie between: places of the same kind, which can fail in that way too.
  const others = mode?.needs_other
    ? places.filter((p) => p.id !== placeId && p.modes.some((m) => m.mode === mode.mode))
    : [];
  const number = Number(severity.replace(',', '.'));
  const drafted = (value: number): FaultDoc | undefined => {
    if (!place || !mode || (mode.needs_other && !other)) return undefined;
    const range = mode.severity;
    return {
      place: place.id,
      mode: mode.mode,
      ...(range && { severity: { value, unit: range.unit } }),
      ...(mode.needs_other && { other }),
      ...(when !== 'always' && { when: when }),
    };
  };
  const value = severity.trim() === '' ? (mode?.severity?.usual ?? 0) : number;
  const draft = Number.isFinite(value) ? drafted(value) : undefined;
  const tried = JSON.stringify(draft);
  useEffect(() => onTry(tried ? (JSON.parse(tried) as FaultDoc) : undefined), [tried, onTry]);
  const add = () => {
    if (mode?.severity && !Number.isFinite(number)) {
      setError(
        `“${severity}” is no severity: expected a number of ${mode.severity.unit}, such as ${mode.severity.usual}`,
      );
      return;
    }
    if (!draft) return;
    onChange([...faults.filter((f) => f.place !== draft.place), draft]);
    onPlace(undefined);
  };
  return (
    <section aria-label="Faults">
      <h2>Faults</h2>
      {faults.length === 0 && <p className="quiet close">None: the circuit is healthy.</p>}
      {faults.map((f) => (
        <div className="row spread close" key={f.place}>
          <span>
            <b>{f.place}</b> {places.find((p) => p.id === f.place)?.about}
            <br />
            <span className="bad">
              {f.mode.replaceAll('_', ' ')} {severityOf(f)}
              {f.other && ` ${f.mode === 'crossed' ? 'with' : 'and'} ${f.other}`}
              {f.when && f.when !== 'always' && `, when ${f.when}`}
            </span>
          </span>
          <span className="one-line">
            <Button size="small" onClick={() => onPlace(f.place)} aria-label={`Change ${f.place}`}>
              Change
            </Button>{' '}
            <Button
              size="small"
              onClick={() => onChange(faults.filter((g) => g !== f))}
              aria-label={`Take out ${f.place}`}
            >
              Take out
            </Button>
          </span>
        </div>
      ))}
      <div className="fault-form">
        <Select
          id="fault-place"
          aria-label="Place"
          showSearch={{ optionFilterProp: 'label' }}
          placeholder="Place: type W8, C12, ground …"
          value={placeId}
          onChange={onPlace}
          options={places.map((p) => ({ value: p.id, label: `${p.id} · ${p.about}` }))}
        />
        <div className="row one-line">
          <Select
            id="fault-mode"
            aria-label="Mode"
            className="grow"
            showSearch={{ optionFilterProp: 'label' }}
            placeholder="Mode"
            disabled={!place}
            value={modeName}
            onChange={setModeName}
            options={modes.map((m) => ({ value: m.mode, label: `${m.mode.replaceAll('_', ' ')} · ${m.about}` }))}
          />
          {mode?.severity && (
            <input
              id="fault-severity"
              className="text-field severity"

              aria-label={`Severity in ${mode.severity.unit}`}
              placeholder={`${mode.severity.usual} ${mode.severity.unit}`}
              value={severity}
              aria-invalid={error !== ''}
              onChange={(e) => {
                setSeverity(e.target.value);
                setError('');
              }}
              onKeyDown={(e) => e.key === 'Enter' && add()}
            />
          )}
          <Button id="fault-add" type="primary" disabled={!mode || (mode.needs_other && !other)} onClick={add}>
            Set
          </Button>
        </div>
        {mode?.severity && (
          <Slider
            className="how-bad"
            min={0}
            max={STEPS}
            value={stepOf(mode.severity, value)}
            onChange={(step) => setSeverity(String(valueOf(mode.severity!, step)))}
            tooltip={{ formatter: (step) => `${valueOf(mode.severity!, step ?? 0)} ${mode.severity!.unit}` }}
            ariaLabelForHandle={`How bad, ${mode.severity.least} to ${mode.severity.most} ${mode.severity.unit}`}
            ariaValueTextFormatterForHandle={(step) => `${valueOf(mode.severity!, step)} ${mode.severity!.unit}`}
          />
        )}
        {draft && (
          <p className="quiet tight" id="told" role="status">
            {told}
          </p>
        )}
        {error && (
          <p className="error-line tight" role="alert">
            {error}
          </p>
        )}
        {mode && (
          <div className="row one-line">
            {mode.needs_other && (
              <Select
                id="fault-other"
                aria-label="The other place"
                className="grow"
                showSearch={{ optionFilterProp: 'label' }}
                placeholder="and the other place"
                value={other}
                onChange={setOther}
                options={others.map((p) => ({ value: p.id, label: `${p.id} · ${p.about}` }))}
              />
            )}
            <label className="quiet one-line">
              there{' '}
              <select id="fault-when" className="more" value={when} onChange={(e) => setWhen(e.target.value)}>
                {WHEN.map((w) => (
                  <option key={w} value={w}>
                    {w === 'always' ? w : `when ${w}`}
                  </option>
                ))}
              </select>
            </label>
          </div>
        )}
      </div>
    </section>
  );
});

// The faults on the bench: what is set, and a form for the next one.
import { Button, Select } from 'antd';
import { memo, useState } from 'react';

import type { FaultDoc, PlaceInfo } from '../../api/client';
import './FaultEditor.css';

type Props = { places: PlaceInfo[]; faults: FaultDoc[]; onChange: (faults: FaultDoc[]) => void };

/** How bad a fault is, as one says it: "20 %", "2 Ω". */
function severityOf(fault: FaultDoc): string {
  const given = fault.severity;
  if (!given) return '';
  return given.unit === 'share' ? `${given.value * 100} %` : `${given.value} ${given.unit ?? ''}`;
}

/** When a fault is there. */
const WHEN = ['always', 'hot', 'moved', 'wet', 'vibrating'];

/** Drawn again only when faults or places change: its lists are long. */
export const FaultEditor = memo(function FaultEditor({ places, faults, onChange }: Props) {
  const [placeId, setPlaceId] = useState<string>();
  const [modeName, setModeName] = useState<string>();
  const [severity, setSeverity] = useState('');
  const [other, setOther] = useState<string>();
  const [when, setWhen] = useState('always');
  const [error, setError] = useState('');
  const place = places.find((p) => p.id === placeId);
  const modes = place?.modes ?? [];
  const mode = modes.find((m) => m.mode === modeName);
  const clear = (id?: string) => {
    setPlaceId(id);
    setModeName(undefined);
    setSeverity('');
    setOther(undefined);
    setWhen('always');
    setError('');
  };
  // What a fault can lie between: places of the same kind, which can fail in that way too.
  const others = mode?.needs_other
    ? places.filter((p) => p.id !== placeId && p.modes.some((m) => m.mode === mode.mode))
    : [];
  const add = () => {
    if (!place || !mode) return;
    const number = Number(severity.replace(',', '.'));
    if (mode.severity && !Number.isFinite(number)) {
      setError(
        `“${severity}” is no severity: expected a number of ${mode.severity.unit}, such as ${mode.severity.usual}`,
      );
      return;
    }
    const range = mode.severity;
    const given = range ? { severity: { value: severity.trim() === '' ? range.usual : number, unit: range.unit } } : {};
    const between = mode.needs_other ? { other } : {};
    const condition = when === 'always' ? {} : { when };
    onChange([
      ...faults.filter((f) => f.place !== place.id),
      { place: place.id, mode: mode.mode, ...given, ...between, ...condition },
    ]);
    clear();
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
          <Button
            size="small"
            onClick={() => onChange(faults.filter((g) => g !== f))}
            aria-label={`Take out ${f.place}`}
          >
            Take out
          </Button>
        </div>
      ))}
      <div className="fault-form">
        <Select
          id="fault-place"
          aria-label="Place"
          showSearch={{ optionFilterProp: 'label' }}
          placeholder="Place: type W8, C12, ground …"
          value={placeId}
          onChange={clear}
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

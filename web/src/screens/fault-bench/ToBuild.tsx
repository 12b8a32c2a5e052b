// A machine that the students wire: what is in it already, and whether they get the wire list.
import { Checkbox, Select } from 'antd';
import { useState } from 'react';

export type Wires = { id: string; from: string; to: string; label: string }[];

/** What is given of a machine that is wired. */
export function useBuild(wires: Wires) {
  const [given, setGiven] = useState<string[]>([]);
  const [byList, setByList] = useState(false);
  // Another circuit has other wires.
  const there = given.filter((id) => wires.some((w) => w.id === id));
  const task = { kind: 'build' as const, given: there, by_list: byList };
  return { wires, given: there, setGiven, byList, setByList, task };
}

export function ToBuild({
  wires,
  given,
  setGiven,
  byList,
  setByList,
  sound,
}: ReturnType<typeof useBuild> & { sound: boolean }) {
  return (
    <>
      {!sound && <p className="error-line">What is built is as it should be: take the faults away first.</p>}
      <label>
        <span className="field-label">
          Wires that are in already; the other {wires.length - given.length} are put in
        </span>
        <Select
          id="given-wires"
          mode="multiple"
          className="whole-width"
          maxTagCount={6}
          showSearch={{ optionFilterProp: 'label' }}
          value={given}
          onChange={setGiven}
          options={wires.map((w) => ({ value: w.id, label: `${w.id} · ${w.from} – ${w.to} · ${w.label}` }))}
        />
      </label>
      <Checkbox id="by-list" checked={byList} onChange={(e) => setByList(e.target.checked)}>
        The students get the wire list: ends, sizes and colours count
      </Checkbox>
    </>
  );
}

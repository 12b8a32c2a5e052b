// What the reasons of predictions count.
import { InputNumber } from 'antd';

type Props = { id: string; value: number; onChange: (marks: number) => void };

export function ReasonMarks({ id, value, onChange }: Props) {
  return (
    <label className="row">
      <span>Marks of 100 for the reasons (0: none are asked for)</span>
      <InputNumber id={id} min={0} max={100} value={value} onChange={(v) => onChange(v ?? 0)} />
    </label>
  );
}

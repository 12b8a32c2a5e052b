// On a narrow screen the bench shows one of four views at a time; on a wide one this is not there.
export type ViewName = 'machine' | 'meter' | 'readings' | 'reasoning';

type Props = {
  shown: ViewName;
  onShow: (view: ViewName) => void;
  /** Where the leads are: what a finger on the diagram has just changed. */
  leads: string;
  readings: number;
  reasoned: string;
  /** What was refused while the machine fills the screen, whose own place for it is at the meter. */
  refusal?: string;
};

export function Views({ shown, onShow, leads, readings, reasoned, refusal }: Props) {
  const views: [ViewName, string, string][] = [
    ['machine', 'Machine', 'diagram'],
    ['meter', 'Meter', leads],
    ['readings', 'Readings', readings === 1 ? '1 taken' : `${readings} taken`],
    ['reasoning', 'Reasoning', reasoned],
  ];
  return (
    <div className="views">
      {shown === 'machine' && refusal && (
        <p className="error-line" role="alert">
          {refusal}
        </p>
      )}
      <nav aria-label="Views of the bench">
        {views.map(([name, text, about]) => (
          <button
            key={name}
            id={`view-${name}`}
            type="button"
            aria-current={shown === name ? 'true' : undefined}
            onClick={() => onShow(name)}
          >
            <b>{text}</b>
            <small>{about}</small>
          </button>
        ))}
      </nav>
    </div>
  );
}

// The foot of the bench: what was named and mended, and the ways to end.
import { Button } from 'antd';
import { Link } from 'react-router';

import type { AttemptView } from '../../api/client';
import './Conclusion.css';

type Props = {
  id: number;
  attempt: AttemptView;
  onName: () => void;
  onRepair: () => void;
  onGiveBack: () => void;
  onHandIn: () => void;
  onHelp: () => void;
};

export function Conclusion({ id, attempt, onName, onRepair, onGiveBack, onHandIn, onHelp }: Props) {
  const view = attempt.bench;
  const marked = attempt.purpose === 'marks';
  const named = view.named ? (
    <>
      Named: <b>{view.named.place}</b> {view.named.mode.replaceAll('_', ' ')}
    </>
  ) : (
    view.no_fault && <b>No fault found</b>
  );
  const help = (
    <Button type="text" size="small" aria-label="Keys" onClick={onHelp}>
      <kbd>?</kbd>
    </Button>
  );
  return (
    <section aria-label="Conclusion" className="conclusion in-reasoning">
      {(named || view.repairs.length > 0) && (
        <p className="concluded-so-far">
          {named}
          {named && view.repairs.length > 0 && ' · '}
          {view.repairs.join(', ')}
        </p>
      )}
      {view.seen_again && (
        <p className={view.seen_again.came_back ? 'bad' : undefined} id="seen-again" role="status">
          {view.seen_again.text}
        </p>
      )}
      {view.handed_in ? (
        <p>
          {marked ? 'Handed in. ' : 'Finished. '}
          <Link to={`/attempts/${id}/sheet`}>
            {marked
              ? 'Open the mark sheet'
              : attempt.sheet || attempt.build
                ? 'See what was right'
                : 'Go through it step by step'}
          </Link>
        </p>
      ) : attempt.purpose === 'tools' ? (
        <div className="row">
          <span className="quiet">Nothing is marked and no clock runs here.</span>
          {help}
        </div>
      ) : (
        <div className="row">
          {!attempt.sheet && !attempt.build && (
            <>
              <Button id="name-fault" onClick={onName}>
                Name the fault <kbd>N</kbd>
              </Button>
              <Button id="repair" onClick={onRepair}>
                Repair <kbd>F</kbd>
              </Button>
              {attempt.craft && view.repairs.length > 0 && (
                <Button id="give-back" onClick={onGiveBack}>
                  Give it back <kbd>G</kbd>
                </Button>
              )}
            </>
          )}
          <Button id="hand-in" onClick={onHandIn}>
            {marked ? 'Hand in' : 'Finish'} <kbd>H</kbd>
          </Button>
          {help}
        </div>
      )}
    </section>
  );
}

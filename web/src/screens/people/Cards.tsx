// What was made for people to sign in with: told once, to be cut out and handed over.
import { Button } from 'antd';

import type { Schemas } from '../../api/client';
import '../../app/Cards.css';

export function Cards({ told, onDone }: { told: Schemas['Told'][]; onDone: () => void }) {
  return (
    <section className="sign-in-cards" aria-label="Sign-in cards">
      <p role="status" className="no-print">
        These passwords are shown this once. Print them, or write them down, before you go on.
      </p>
      <ul>
        {told.map((t) => (
          <li key={t.id}>
            <strong>{t.display}</strong>
            <span>
              Name <code>{t.name}</code>
            </span>
            <span>
              Password <code>{t.password}</code>
            </span>
          </li>
        ))}
      </ul>
      <div className="row no-print">
        <Button id="print-cards" type="primary" onClick={() => window.print()}>
          Print
        </Button>
        <Button id="cards-done" onClick={onDone}>
          Done
        </Button>
      </div>
    </section>
  );
}

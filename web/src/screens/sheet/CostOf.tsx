// What the way that was taken costs the customer, beside the best one.
import type { Schemas } from '../../api/client';

export function CostOf({ cost }: { cost: Schemas['Cost'] }) {
  const bills = [
    { title: 'Your way', bill: cost.taken },
    { title: 'The best way', bill: cost.best },
  ];
  return (
    <section aria-label="What the customer pays" className="apart">
      <h2>What the customer pays</h2>
      <p className="quiet close">Made-up prices, in {cost.money}. No marks hang on it.</p>
      <table className="sheet-table" id="cost">
        <thead>
          <tr>
            <th />
            <th className="number">Minutes</th>
            <th className="number">Work</th>
            <th>Parts and material</th>
            <th className="number">In all</th>
          </tr>
        </thead>
        <tbody>
          {bills.map(({ title, bill }) => (
            <tr key={title}>
              <th scope="row">{title}</th>
              <td className="number">{bill.minutes.toFixed(0)}</td>
              <td className="number">{bill.work.toFixed(2)}</td>
              <td>{bill.parts.map((p) => `${p.what}, ${p.price.toFixed(2)}`).join(' · ') || '–'}</td>
              <td className="number">
                <b>{bill.total.toFixed(2)}</b>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

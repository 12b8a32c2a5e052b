// What is noticed shows at its symbol: a lamp is lit, a motor turns. What is not noticed shows nowhere.
import type { Schemas } from '../api/client';
import { copper, verdigris } from '../theme';
import type { Scene } from './scene';

type Notice = Schemas['Notice'];

const LIGHT: Record<string, number> = { bright: 0.95, dim: 0.4, flickers: 0.6 };
/** Signs of something that does nothing. */
const QUIET = ['dark', 'silent', 'shut', 'at rest', 'stays cold', 'stands still', 'no ', 'blown'];

export function Noticed({ scene, notices }: { scene: Scene; notices: readonly Notice[] }) {
  return notices.map((notice, n) => {
    const at =
      scene.symbols.find((s) => s.id === notice.part && s.of !== 'contact' && s.of !== 'coil') ??
      scene.symbols.find((s) => s.id === notice.part);
    if (!at) return null;
    const light = LIGHT[notice.sign];
    if (light !== undefined) {
      return (
        <g key={n} data-noticed={notice.part}>
          <title>{notice.text}</title>
          <circle cx={at.x} cy={at.y} r={13} fill="#f2c230" opacity={light * 0.45} />
          <circle cx={at.x} cy={at.y} r={8} fill="#f2c230" opacity={light} />
        </g>
      );
    }
    // That the engine fires is heard of the engine, not seen at a plug.
    if (['light', 'firing'].includes(notice.kind) || QUIET.some((q) => notice.sign.includes(q))) return null;
    return (
      <g
        key={n}
        data-noticed={notice.part}
        transform={`translate(${at.x} ${at.y})`}
        fill="none"
        stroke={notice.kind === 'sound' ? verdigris : copper}
        strokeWidth={1.4}
        strokeLinecap="round"
      >
        <title>{notice.text}</title>
        <path d="M-11.5 -6A13 13 0 0 1 6 -11.5M3.6 -13.6L6.4 -11.4L4 -8.8" />
        <path d="M11.5 6A13 13 0 0 1 -6 11.5M-3.6 13.6L-6.4 11.4L-4 8.8" />
      </g>
    );
  });
}

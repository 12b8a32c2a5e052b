// What a machine and a meter sound like, made in the page. Off until it is switched on, and never the only sign.
import { useSyncExternalStore } from 'react';

import type { Schemas } from '../api/client';

type Notice = Pick<Schemas['Notice'], 'part' | 'sign'>;
export type Sound = 'click' | 'chatter' | 'crank' | 'slow crank' | 'beep';

const OF_SIGN: Record<string, Sound> = {
  click: 'click',
  chatter: 'chatter',
  cranks: 'crank',
  limps: 'crank',
  slow: 'slow crank',
};

/** What is heard when a machine that did one thing does another: each sound once, however many make it. */
export function soundsOf(before: readonly Notice[], now: readonly Notice[]): Sound[] {
  const was = new Set(before.map((n) => `${n.part} ${n.sign}`));
  const fresh = now.filter((n) => !was.has(`${n.part} ${n.sign}`));
  return [...new Set(fresh.flatMap((n) => OF_SIGN[n.sign] ?? []))];
}

let context: AudioContext | undefined;
const listeners = new Set<() => void>();

function subscribe(listener: () => void) {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** Whether sound is on, and a way to switch it. A browser lets a page sound only after somebody has pressed something. */
export function useSound(): [boolean, () => void] {
  const on = useSyncExternalStore(subscribe, () => context !== undefined);
  return [on, toggle];
}

function toggle() {
  if (context) void context.close();
  context = context ? undefined : new AudioContext();
  listeners.forEach((listener) => listener());
}

/** Plays something, where sound is on. */
export function play(sound: Sound) {
  if (!context) return;
  const at = context.currentTime + 0.02;
  switch (sound) {
    case 'click':
      return click(context, at);
    case 'chatter':
      // A relay whose supply falls as it pulls, a dozen times a second.
      for (let n = 0; n < 10; n++) click(context, at + n / 12);
      return;
    case 'crank':
      return crank(context, at, 5);
    case 'slow crank':
      return crank(context, at, 2.2);
    case 'beep':
      return tone(context, { at, lasts: 0.35, hz: 2000, type: 'sine', loud: 0.12 });
  }
}

/** Noise that dies away within a fiftieth of a second. */
function click(on: AudioContext, at: number) {
  const lasts = 0.03;
  const noise = on.createBuffer(1, Math.ceil(lasts * on.sampleRate), on.sampleRate);
  const samples = noise.getChannelData(0);
  for (let n = 0; n < samples.length; n++) {
    samples[n] = (2 * Math.random() - 1) * Math.exp((-8 * n) / samples.length);
  }
  const source = on.createBufferSource();
  const loud = on.createGain();
  loud.gain.value = 0.35;
  source.buffer = noise;
  source.connect(loud).connect(on.destination);
  source.start(at);
}

/** A starter's whine, held back at each compression so many times a second. */
function crank(on: AudioContext, at: number, perSecond: number) {
  const lasts = 1.4;
  const loud = tone(on, { at, lasts, hz: 60 + 14 * perSecond, type: 'sawtooth', loud: 0.08 });
  const pulse = on.createOscillator();
  const depth = on.createGain();
  pulse.frequency.value = perSecond;
  depth.gain.value = 0.06;
  pulse.connect(depth).connect(loud);
  pulse.start(at);
  pulse.stop(at + lasts);
}

type Tone = { at: number; lasts: number; hz: number; type: OscillatorType; loud: number };

/** One tone; how loud it is can be changed by what is given back. */
function tone(on: AudioContext, { at, lasts, hz, type, loud }: Tone): AudioParam {
  const source = on.createOscillator();
  const gain = on.createGain();
  source.type = type;
  source.frequency.value = hz;
  gain.gain.value = loud;
  source.connect(gain).connect(on.destination);
  source.start(at);
  source.stop(at + lasts);
  return gain.gain;
}

import { useFrame, useThree } from '@react-three/fiber';
import { useEffect, type ReactNode, type RefObject } from 'react';
import { Vector3 } from 'three';
import { standFlags } from './flagPlaces.ts';
import { placeTags, type TagPoint } from '@jasmorphe/core/planning/tagPlaces';

/** Something written at a place of the bench. */
export interface BenchLabel {
  key: string;
  at: [number, number, number];
  className: string;
  content: ReactNode;
  /** stands beside its place, out of the way of other flags */
  flag?: boolean;
  /** stands at the side with a leader where there are several; where they are too many, `first` never gives way */
  tag?: 'gives way' | 'first';
}

const scratch = new Vector3();

/** Keeps the labels over their places while the camera moves; lives inside the canvas. */
export function LabelPlaces({ labels, sheet }: { labels: BenchLabel[]; sheet: RefObject<HTMLDivElement | null> }) {
  const invalidate = useThree((s) => s.invalidate);
  useEffect(() => invalidate(), [labels, invalidate]);
  useFrame(({ camera, size }) => {
    const children = sheet.current?.children;
    if (!children) return;
    // the drawing that follows would do this, but too late for the labels
    camera.updateMatrixWorld();
    const flags: ([number, number] | null)[] = [];
    const tags: (TagPoint & { style: CSSStyleDeclaration; sign: HTMLElement | null })[] = [];
    for (let i = 0; i < labels.length && i < children.length; i++) {
      scratch.set(...labels[i].at).project(camera);
      const style = (children[i] as HTMLElement).style;
      const hidden = scratch.z > 1;
      style.visibility = hidden ? 'hidden' : 'visible';
      const x = ((scratch.x + 1) / 2) * size.width;
      const y = ((1 - scratch.y) / 2) * size.height;
      if (!hidden) style.transform = `translate(${x}px, ${y}px)`;
      if (labels[i].tag && !hidden) {
        const sign = children[i].firstElementChild as HTMLElement | null;
        const depth = labels[i].tag === 'first' ? -2 : scratch.z;
        if (x > 0 && y > 0 && x < size.width && y < size.height) tags.push({ style, sign, x, y, depth });
        else style.visibility = 'hidden';
      }
      const seen = !hidden && x > 0 && y > 0 && x < size.width && y < size.height;
      if (labels[i].flag) flags.push(seen ? [x, y] : null);
    }
    // one tag stands on its part; several stand at the sides, with leaders
    const alone = tags.length < 2;
    const places = alone ? [] : placeTags(tags, size.width, size.height);
    tags.forEach(({ style, sign, x, y }, i) => {
      const place = alone ? ([x, y] as const) : places[i];
      style.visibility = place ? 'visible' : 'hidden';
      if (!place) return;
      style.transform = `translate(${place[0]}px, ${place[1]}px)`;
      sign?.style.setProperty('--leader', `${Math.hypot(x - place[0], y - place[1])}px`);
      sign?.style.setProperty('--slope', `${Math.atan2(y - place[1], x - place[0])}rad`);
    });
    const stands = standFlags(flags, size.width, size.height);
    labels
      .filter((l) => l.flag)
      .forEach((l, i) => {
        const child = children[labels.indexOf(l)] as HTMLElement | undefined;
        const [x, y] = stands[i] ?? [34, -26];
        child?.style.setProperty('--flagX', `${x}px`);
        child?.style.setProperty('--flagY', `${y}px`);
        child?.style.setProperty('--leader', `${Math.hypot(x, y)}px`);
        child?.style.setProperty('--slope', `${Math.atan2(y, x)}rad`);
      });
  });
  return null;
}

/** The labels themselves, over the canvas. */
export function LabelSheet({ labels, sheet }: { labels: BenchLabel[]; sheet: RefObject<HTMLDivElement | null> }) {
  return (
    <div className="labelSheet" ref={sheet}>
      {labels.map((l) => (
        <div key={l.key} className="labelPlace">
          <div className={l.className}>{l.content}</div>
        </div>
      ))}
    </div>
  );
}

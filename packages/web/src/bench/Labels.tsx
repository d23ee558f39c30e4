import { useFrame, useThree } from '@react-three/fiber';
import { useEffect, type ReactNode, type RefObject } from 'react';
import { Vector3 } from 'three';

/** Something written at a place of the bench. */
export interface BenchLabel {
  key: string;
  at: [number, number, number];
  className: string;
  content: ReactNode;
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
    for (let i = 0; i < labels.length && i < children.length; i++) {
      scratch.set(...labels[i].at).project(camera);
      const style = (children[i] as HTMLElement).style;
      const hidden = scratch.z > 1;
      style.visibility = hidden ? 'hidden' : 'visible';
      if (!hidden)
        style.transform = `translate(${((scratch.x + 1) / 2) * size.width}px, ${((1 - scratch.y) / 2) * size.height}px)`;
    }
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

import Slider from '@mui/material/Slider';
import { useFrame, useThree } from '@react-three/fiber';
import { useEffect, useState } from 'react';
import type { BufferGeometry, Group, Plane } from 'three';
import type { Tokens } from '../app/tokens.ts';
import { useLength } from '../app/useLength.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import type { DistanceView } from '../worker/workshop.ts';
import { fullMesh } from '../worker/fullMesh.ts';
import { setSwipe, type Comparison } from './benchSlice.ts';
import { cividisGradient } from './cividis.ts';
import type { DisplayGeometry } from './displayMesh.ts';
import { ScalarSkin } from './SkinMap.tsx';
import { useDisplay } from './useDisplay.ts';

/** Triangles drawn of each of the two skins. */
const budget = 100_000;

/** Distances from the vertices of one drawn skin to another one in full. */
export function useDistances(comparison: Comparison | null): {
  display: DisplayGeometry | null;
  view: DistanceView | null;
  failed: boolean;
} {
  const mapped = comparison?.mode === 'map' || comparison?.mode === 'lost' ? comparison : null;
  const from = mapped ? (mapped.mode === 'map' ? mapped.after : mapped.before) : '';
  const to = mapped ? (mapped.mode === 'map' ? mapped.before : mapped.after) : '';
  const loaded = useDisplay(from, budget);
  // distances belong to the vertices of this very mesh
  const display = loaded.hash === from ? loaded.display : null;
  const key = `${from}|${to}`;
  const [held, setHeld] = useState<{ key: string; view: DistanceView | null }>({ key: '', view: null });
  useEffect(() => {
    if (!display || !to) return;
    let live = true;
    fullMesh()
      .distances(display.positions, to)
      .then(
        (view) => live && setHeld({ key, view }),
        () => live && setHeld({ key, view: null }),
      );
    return () => void (live = false);
  }, [display, to, key]);
  const mine = held.key === key && mapped !== null;
  return { display, view: mine ? held.view : null, failed: mine && held.view === null };
}

/** Distance at the upper end of the colours: the few that are farther take the last one. */
const topOf = (view: DistanceView): number => (view.p99Mm > 0.05 * view.maxMm ? view.p99Mm : view.maxMm) || 1;

/** Draws the bench twice, the old skin to the left of the swipe and the new one to its right. */
function SwipeDraw({ before, after, share }: { before: Group | null; after: Group | null; share: number }) {
  const invalidate = useThree((s) => s.invalidate);
  useEffect(() => invalidate(), [share, invalidate]);
  useFrame(({ gl, scene, camera, size }) => {
    if (!before || !after) return;
    const at = Math.round(share * size.width);
    gl.setScissorTest(true);
    before.visible = true;
    after.visible = false;
    gl.setScissor(0, 0, at, size.height);
    gl.render(scene, camera);
    before.visible = false;
    after.visible = true;
    gl.setScissor(at, 0, size.width - at, size.height);
    gl.render(scene, camera);
    gl.setScissorTest(false);
    before.visible = true;
  }, 1);
  return null;
}

/** What a comparison shows inside the canvas. `draw` puts a skin in clay. */
export function ComparedSkins({
  comparison,
  map,
  clip,
  colours,
  draw,
}: {
  comparison: Comparison;
  map: ReturnType<typeof useDistances>;
  clip: Plane | null;
  colours: Tokens;
  draw: (geometry: BufferGeometry, colour: string) => React.ReactNode;
}) {
  const share = useAppSelector((s) => s.bench.swipe);
  const { mode, before, after } = comparison;
  const old = useDisplay(mode === 'swipe' || mode === 'before' || mode === 'lost' ? before : '', budget).display;
  const fresh = useDisplay(mode === 'swipe' || mode === 'after' || mode === 'map' ? after : '', budget).display;
  const [left, setLeft] = useState<Group | null>(null);
  const [right, setRight] = useState<Group | null>(null);
  if (mode === 'swipe')
    return (
      <>
        <group ref={setLeft}>{old && draw(old.geometry, colours.clay)}</group>
        <group ref={setRight}>{fresh && draw(fresh.geometry, colours.clay)}</group>
        <SwipeDraw before={left} after={right} share={share} />
      </>
    );
  if (mode === 'map' || mode === 'lost') {
    if (map.display && map.view)
      return (
        <ScalarSkin
          display={map.display}
          values={map.view.distances}
          range={{ low: 0, high: topOf(map.view), fails: -1 }}
          clip={clip}
          colours={colours}
        />
      );
    const shown = mode === 'map' ? fresh : old;
    return shown ? draw(shown.geometry, colours.clay) : null;
  }
  const shown = mode === 'before' ? old : fresh;
  return shown ? draw(shown.geometry, colours.clay) : null;
}

/** The line of a swipe, and the legend of a map, over the canvas. */
export function CompareSheet({ comparison, map }: { comparison: Comparison; map: ReturnType<typeof useDistances> }) {
  const dispatch = useAppDispatch();
  const share = useAppSelector((s) => s.bench.swipe);
  const length = useLength();
  if (comparison.mode === 'swipe')
    return (
      <>
        <div className="swipeLine" style={{ left: `${100 * share}%` }} aria-hidden />
        <Slider
          className="swipeSlide"
          size="small"
          min={0}
          max={1}
          step={0.005}
          value={share}
          aria-label="Old skin to the left, new skin to the right"
          onChange={(_e, value) => dispatch(setSwipe(value))}
        />
        <div className="swipeWord left label">old</div>
        <div className="swipeWord right label">new</div>
      </>
    );
  if (comparison.mode !== 'map' && comparison.mode !== 'lost') return null;
  return (
    <div className="mapLegend" role="status" data-testid="map-legend">
      <div className="label">
        {comparison.mode === 'map' ? 'New skin, from the old one' : 'Old skin, from the new one'}
      </div>
      {map.failed ? (
        'The distances cannot be measured.'
      ) : !map.view ? (
        'Measuring …'
      ) : (
        <>
          <div className="scale" style={{ background: cividisGradient }}>
            <i style={{ left: `${Math.min(100, (100 * map.view.meanMm) / topOf(map.view))}%` }} title="typical" />
          </div>
          <div className="ends figure">
            <span>0</span>
            <span>typical {length(map.view.meanMm)}</span>
            <span>
              {topOf(map.view) < map.view.maxMm ? '≥ ' : ''}
              {length(topOf(map.view))}
            </span>
          </div>
          <div className="ends figure">
            <span>largest</span>
            <span>{length(map.view.maxMm)}</span>
          </div>
        </>
      )}
    </div>
  );
}

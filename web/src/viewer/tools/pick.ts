import { ref, shallowRef, watch } from 'vue';
import type { Probe } from '../../picture/messages.ts';
import type { Place, ToolHost, ViewerTool } from '../tool.ts';

/** A member as the pointer meets it. */
export interface Met {
  id: number;
  name: string;
}

/** What picking works on, handed in by the screen. */
export interface PickTarget {
  /** The ID layer from which a click takes; undefined if there is none yet. */
  layer(): string | undefined;
  /** Which of the IDs under the pointer is meant: 0 the front one. */
  behind(): number;
  isIn(layer: string, member: Met): boolean;
  put(layer: string, member: Met, way: 'in' | 'out'): void;
  /** The click or sweep is over: one step of the history. */
  done(way: 'in' | 'out', names: string[]): Promise<void>;
  membersAlong(layer: string, from: Place, to: Place): Promise<Met[]>;
  outline(layer: string, id: number): Promise<Float32Array>;
  /** Whether the IDs of a layer have been read. */
  state(layer: string): 'coming' | 'there' | 'failed';
  /** A click could not be done, because the IDs of the layer cannot be read. */
  dropped(layer: string): void;
}

/** Screen pixels from which on a movement is a sweep. */
const SWEEP_FROM = 3;

/** A click puts a member in or out; a drag does the same with all that it touches, as its first one went. */
export function pickTool(host: ToolHost, target: PickTarget): ViewerTool {
  const hover = shallowRef<Float32Array>();
  const waiting = shallowRef<Place>();
  let hovered = '';
  let last: Probe | undefined;
  let sweep: { layer: string; way: 'in' | 'out'; touched: Set<string>; at: Place } | undefined;
  /** Questions to the worker are answered in order; so is what follows from them. */
  let chain: Promise<void> = Promise.resolve();
  const then = (work: () => Promise<void>) => (chain = chain.then(work, work));

  function meant(probe: Probe | undefined): Met | undefined {
    const ids = probe?.layers.find((l) => l.layer === target.layer())?.ids;
    return ids?.length ? ids[target.behind() % ids.length] : undefined;
  }
  function put(members: readonly Met[]): void {
    for (const m of members) {
      if (!sweep || sweep.touched.has(m.name)) continue;
      sweep.touched.add(m.name);
      target.put(sweep.layer, m, sweep.way);
    }
  }
  async function showHover(): Promise<void> {
    const layer = target.layer();
    const member = meant(last);
    const key = member && layer ? `${layer} ${member.id}` : '';
    if (key === hovered) return;
    hovered = key;
    const outline = member && layer ? await target.outline(layer, member.id) : undefined;
    if (key === hovered) hover.value = outline;
  }
  watch([() => target.layer(), () => target.behind()], () => void showHover());

  return {
    hover,
    waiting,
    drawn: shallowRef(),
    reach: ref(0),
    down(at) {
      void then(async () => {
        const layer = target.layer();
        if (!layer) return;
        if (target.state(layer) === 'coming') waiting.value = at;
        const probe = await host.probe(at, layer);
        waiting.value = undefined;
        if (target.state(layer) === 'failed') target.dropped(layer);
        const member = meant(probe);
        if (!member) return;
        sweep = { layer, way: target.isIn(layer, member) ? 'out' : 'in', touched: new Set(), at };
        put([member]);
      });
    },
    drag(at) {
      void then(async () => {
        if (!sweep || Math.hypot(at.x - sweep.at.x, at.y - sweep.at.y) * host.scale() < SWEEP_FROM) return;
        const from = sweep.at;
        sweep.at = at;
        put(await target.membersAlong(sweep.layer, from, at));
      });
    },
    up() {
      void then(async () => {
        if (!sweep) return;
        const { touched, way } = sweep;
        sweep = undefined;
        await target.done(way, [...touched]);
      });
    },
    over(probe) {
      last = probe;
      void showHover();
    },
    leave() {
      last = undefined;
      hovered = '';
      hover.value = undefined;
    },
  };
}

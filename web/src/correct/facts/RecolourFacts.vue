<script setup lang="ts">
import { computed, onMounted, ref, shallowRef } from 'vue';
import { useRouter } from 'vue-router';
import { listedChanges, type Change, type ListedChange, type StepUse } from '@zesty-crow/core/changes';
import { rgbToOklab, srgbToLinear, type Triple } from '@zesty-crow/core/colour';
import { correctionOf, limitsOf } from '@zesty-crow/core/corrections';
import { amountOf, colourWithin, type ColourValue } from '@zesty-crow/core/fields';
import { usePicture } from '../../picture/picture.ts';
import { usePlan } from '../../shot/plan.ts';
import type { Version } from '@zesty-crow/server/contract';
import { api } from '../../server/api.ts';
import { notify, notifyError } from '../../server/notify.ts';
import { useChanges } from '../../shot/changes/changes.ts';
import { seenElsewhere } from '../layer-label.ts';
import { useView } from '../../shot/view.ts';
import { reached } from './recolour-words.ts';

/** How a part is recoloured, how near it comes to the swatch, and what would do better. */
const props = defineProps<{ change: Change; use: StepUse }>();
const picture = usePicture();
const changes = useChanges();
const plan = usePlan();
const router = useRouter();

const LIGHT = ['diffuse-direct', 'diffuse-indirect'] as const;
const swatch = computed(() => props.use.values['swatch'] as ColourValue | undefined);
const byPasses = computed(() => Boolean(props.use.values['direct']));
const found = computed(() => {
  const mean = picture.swatches[props.change.id]?.mean;
  if (!mean || !swatch.value || !props.use.on || !props.change.on) return undefined;
  return reached(mean, swatch.value, {
    amount: Math.round(100 * amountOf(props.use.values)),
    alone: props.change.corrections.filter((c) => c.on).length === 1 && changes.list.changes.length === 1,
    limited: limitsOf(props.use.values) !== undefined,
  });
});

// ---- matching another part

const view = useView();
const MATCH = computed(() => `${props.use.id} match`);
const versions = shallowRef<readonly Version[]>([]);
onMounted(async () => {
  if (changes.shotId) versions.value = (await api.shot(changes.shotId)).versions;
});
const others = computed(() =>
  versions.value.filter((v) => v.id !== picture.versionId && v.state === 'ready'),
);
function setSwatch(colour: ColourValue, from: string): void {
  const field = correctionOf(props.use.kind)?.fields.find((f) => f.kind === 'colour');
  if (field?.kind !== 'colour') return;
  changes.setValues(props.change, 'corrections', props.use.id, { [field.key]: colourWithin(field, colour) });
  void changes.commit(`Match ${from}`);
}
const matchPart = () => view.takePart(MATCH.value, (colour) => setSwatch(colour, 'another part'));
async function matchVersion(id: string): Promise<void> {
  const version = others.value.find((v) => v.id === id)!;
  const own = listedChanges(changes.list).find((c) => c.id === props.change.id)!;
  try {
    const mean = await picture.meanInVersion(version, JSON.parse(JSON.stringify(own)) as ListedChange);
    if (mean) setSwatch(mean, `v${version.number}`);
    else notify(`Nothing that this change picks is seen in v${version.number}.`);
  } catch (error) {
    notifyError(error);
  }
}

// ---- its old colour in what is beside it

/** Layers of what is seen in mirrors and through glass, in which its picks are not meant yet. */
const mirrors = computed(() =>
  props.change.who.some((p) =>
    seenElsewhere(
      p.layer,
      picture.cast.map((l) => l.name),
    ).some((e) => !p.also?.some((a) => a.layer === e.layer)),
  ),
);
function alsoInMirrors(): void {
  const layers = picture.cast.map((l) => l.name);
  changes.alsoMean(props.change, (layer) => seenElsewhere(layer, layers).map((e) => e.layer));
}
/** So wide is the strip beside it, in pixels. */
const RING = 12;
/** Hue of a colour of the screen, in degrees. */
function hueOf(css: string): number {
  const [r, g, b] = (css.match(/[\d.]+/g) ?? []).map((v) => srgbToLinear(Number(v) / 255));
  const lab: Triple = [0, 0, 0];
  rgbToOklab(r ?? 0, g ?? 0, b ?? 0, lab);
  return ((Math.atan2(lab[2], lab[1]) * 180) / Math.PI + 360) % 360;
}
/** A change of what is right beside it, where its old colour is taken back: a strip around its edge, without itself. */
function beside(): void {
  const who = JSON.parse(JSON.stringify(props.change.who)) as Change['who'];
  const { id } = changes.addChange(`Beside: ${props.change.words || 'the part'}`.slice(0, 500), who);
  const made = changes.list.changes.find((c) => c.id === id)!;
  changes.addStep(made, 'edge', { kind: 'rim', values: { inside: 0, outside: RING } });
  const old = picture.swatches[props.change.id]?.before;
  changes.addStep(made, 'corrections', {
    kind: 'hue-saturation-lightness',
    values: {
      saturation: -60,
      limitHueWidth: 60,
      limitHueSoft: 30,
      ...(old ? { limitHue: Math.round(hueOf(old)) } : {}),
    },
  });
}

/** Plans the passes that would do better, and goes to where they are rendered. */
const busy = ref(false);
async function planLight(): Promise<void> {
  const id = changes.shotId;
  if (!id || busy.value) return;
  busy.value = true;
  try {
    await plan.load(id);
    for (const kind of LIGHT) if (!plan.plan.passes.some((p) => p.kind === kind && p.on)) plan.addPass(kind);
    await router.push(`/shots/${id}/render`);
  } catch (error) {
    notifyError(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <p class="paper-hint facts">
    <template v-if="!swatch">Choose a swatch: type it, or take it from the picture.</template>
    <strong v-else-if="found" role="status">{{ found }}</strong>
    <template v-if="byPasses"> By light passes: only scattered light takes the colour.</template>
    <template v-else>
      From the picture alone: highlights are told by their colour. Grey, very dark or two-coloured glossy
      things come out better by light passes.
      <button class="plain-button link" type="button" :disabled="busy" @click="planLight">
        Render light passes
      </button>
    </template>
  </p>
  <p class="paper-hint facts">
    Match
    <button
      class="plain-button link"
      type="button"
      :aria-pressed="view.sampling === MATCH"
      title="The next click takes the mean of the thing there"
      @click="matchPart"
    >
      {{ view.sampling === MATCH ? 'click the part…' : 'another part' }}
    </button>
    <template v-for="v in others" :key="v.id">
      or
      <button class="plain-button link" type="button" @click="matchVersion(v.id)">
        itself in v{{ v.number }}
      </button>
    </template>
  </p>
  <p v-if="found" class="paper-hint facts">
    What is beside it may still reflect the old colour:
    <button class="plain-button link" type="button" @click="beside">change the ring around it</button>
    <template v-if="mirrors">
      or
      <button class="plain-button link" type="button" @click="alsoInMirrors">
        take its mirror images, too
      </button> </template
    >.
  </p>
</template>

<style scoped>
.facts {
  margin: 4px 0 8px;
}
strong {
  font-weight: 550;
  color: var(--ink);
}
.link {
  text-decoration: underline;
}
</style>

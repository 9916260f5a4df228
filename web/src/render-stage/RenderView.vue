<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from 'element-plus';
import { computed, onMounted, onUnmounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { DEFAULT_RENDER, duration, megabytes, passKind, planCost, sizeThatFits } from '@zesty-crow/core';
import { useUndoKeys } from '../shot/use-undo-keys.ts';
import { usePlan } from '../shot/plan.ts';
import type { Render } from '@zesty-crow/server/contract';
import { api, fileUrl } from '../server/api.ts';
import { listen } from '../server/events.ts';
import { notifyError } from '../server/notify.ts';
import { useShot } from '../shot/use-shot.ts';
import StageColumns from '../shot/columns/StageColumns.vue';
import { shareOfWindow, useColumns } from '../shot/columns/use-columns.ts';
import FoldPanel from '../shot/FoldPanel.vue';
import ShotBar from '../shot/ShotBar.vue';
import { costInWords, isActive, outcomeInWords } from './render-words.ts';
import LookView from './LookView.vue';
import RenderLine from './RenderLine.vue';
import RenderedVersions from './RenderedVersions.vue';
import RenderSettings from './RenderSettings.vue';
import type { Asked } from './request.ts';
import RequestForm from './RequestForm.vue';
import { useAnew } from './use-anew.ts';
import { useProbe } from './use-probe.ts';
import { useAttention } from './use-attention.ts';

const props = defineProps<{ id: string }>();
const columns = useColumns('render', {
  left: { label: 'what to render', narrowest: 250, usual: shareOfWindow(0.22, 250, 290) },
});
const router = useRouter();
const plan = usePlan();
const renders = ref<Render[]>([]);
const { shot, load } = useShot(props.id, async () => {
  renders.value = await api.renders(props.id);
});
const openId = ref<string>();
const jobId = ref<string>();
const loaded = ref(false);
const starting = ref(false);
const asked = ref<Asked>({ request: { what: 'all' } });

onMounted(async () => {
  await load();
  try {
    await plan.load(props.id);
  } catch (error) {
    notifyError(error);
  }
  loaded.value = true;
});
onUnmounted(
  listen({
    job(job) {
      const render = renders.value.find((r) => r.versionId === job.version_id);
      const at = render?.jobs.findIndex((j) => j.id === job.id) ?? -1;
      if (render && at >= 0) Object.assign(render.jobs[at]!, job);
    },
  }),
);
useUndoKeys(plan);

const open = computed(() => renders.value.find((r) => r.versionId === openId.value) ?? renders.value[0]);
const versionOf = (r: Render) => shot.value?.versions.find((v) => v.id === r.versionId);
/** The job whose picture is shown: the chosen one, otherwise the one that runs, otherwise the last. */
const job = computed(() => {
  const jobs = open.value?.jobs ?? [];
  return jobs.find((j) => j.id === jobId.value) ?? jobs.find((j) => j.state === 'running') ?? jobs.at(-1);
});
const active = computed(() => open.value?.jobs.filter(isActive) ?? []);
const { area, pass } = useAttention(job);
const anew = useAnew(props.id, open, asked, load);
const growing = computed(() => job.value?.state === 'running');
/** What can be seen of a frame while it is rendered. */
const sights = computed(() => [
  { value: '', label: 'Picture' },
  ...(open.value?.plan?.passes ?? []).flatMap((p) => {
    const kind = p.on ? passKind(p.kind) : undefined;
    return kind?.isolates ? [{ value: p.id, label: kind.title(p.values) }] : [];
  }),
]);
/** Pixels across and down of the open version. */
const size = computed(() => {
  const { width, height } = open.value?.plan?.render ?? DEFAULT_RENDER;
  return { width, height };
});
const look = computed(() => {
  if (job.value && job.value.look > 0) return `/api/jobs/${job.value.id}/look?${job.value.look}`;
  const preview =
    open.value &&
    versionOf(open.value)
      ?.files.filter((f) => f.role === 'preview')
      .at(-1);
  return preview ? fileUrl(preview.id) : undefined;
});
const told = computed(() => (open.value ? costInWords(open.value) : ''));
const nextVersion = computed(() => 1 + Math.max(0, ...(shot.value?.versions.map((v) => v.number) ?? [])));
/** Only some pixels or members are rendered; how many is not known before. */
const only = computed(() => ['cut-out', 'patch'].includes(asked.value.request.what));
/** IDs join the version they are rendered over. */
const joins = computed(() => asked.value.request.what === 'ids' && asked.value.base !== undefined);
const targetVersion = computed(
  () =>
    (joins.value && shot.value?.versions.find((v) => v.id === asked.value.base)?.number) || nextVersion.value,
);
const idsOnly = computed(() => asked.value.request.what === 'ids');
const probe = useProbe(props.id, asked);
const cost = computed(() =>
  planCost(
    plan.plan,
    plan.roster,
    plan.measured,
    plan.threads,
    idsOnly.value,
    only.value ? undefined : probe.value,
  ),
);
/** Why a render cannot be started, in words. */
const obstacle = computed(() => {
  if (!plan.outline) return plan.scene?.problem ?? 'There is no scene yet. Choose one in Prepare.';
  const size = plan.memory && sizeThatFits(plan.plan, cost.value, plan.memory);
  if (size) return `This needs more memory than a render may have. ${size.width} x ${size.height} would fit.`;
  return plan.errors[0]?.message ?? asked.value.fault;
});

async function start(): Promise<void> {
  starting.value = true;
  try {
    // The plan must have arrived before it is rendered.
    await plan.commit('Plan as rendered');
    const { versionId } = await api.startRender(props.id, asked.value.request, asked.value.base);
    await load();
    openId.value = versionId;
    jobId.value = undefined;
    area.value = undefined;
    pass.value = '';
    anew.began(versionId);
  } catch (error) {
    notifyError(error);
  } finally {
    starting.value = false;
  }
}
const keep = () =>
  void (open.value && api.keepRender(props.id, open.value.versionId).then(load, notifyError));
const addSamples = async () => {
  if (!open.value) return;
  try {
    await plan.commit('Plan as rendered');
    await api.addSamples(props.id, open.value.versionId);
    await load();
  } catch (error) {
    notifyError(error);
  }
};
const dropSums = () =>
  void (open.value && api.dropSums(props.id, open.value.versionId).then(load, notifyError));
const cancelAll = () =>
  void (open.value && api.cancelRender(props.id, open.value.versionId).then(load, notifyError));
const renderMissing = () =>
  void (open.value && api.renderMissing(props.id, open.value.versionId).then(load, notifyError));
</script>

<template>
  <StageColumns :columns="columns">
    <template #left>
      <section class="paper scroll" aria-label="Settings of the render">
        <h2>Render</h2>
        <RequestForm :versions="shot?.versions ?? []" @change="asked = $event" />
        <RenderSettings :shot-name="shot?.name ?? ''" :version="targetVersion" :ids-only="idsOnly" />
        <div class="start">
          <p class="sum">
            {{ only ? 'At most' : 'About' }} <b>{{ duration(cost.seconds * cost.frames) }}</b> and
            <b>{{ megabytes(cost.bytes * cost.frames) }}</b>
            <template v-if="cost.frames > 1"> for {{ cost.frames }} frames</template>
          </p>
          <p v-if="!joins" class="paper-hint kept">
            {{
              cost.sums <= plan.sumsLimit
                ? `Samples can be added later: ${megabytes(cost.sums * cost.frames)} are kept for it.`
                : `Samples cannot be added later: ${megabytes(cost.sums)}${cost.frames > 1 ? ' a frame' : ''} would have to be kept.`
            }}
          </p>
          <ElButton type="primary" :disabled="obstacle !== undefined || starting" @click="start">{{
            joins ? 'Render the passes' : `Render v${nextVersion}: ${outcomeInWords(plan.plan.render, cost)}`
          }}</ElButton>
          <p v-if="obstacle && loaded" class="fault">{{ obstacle }}</p>
        </div>
      </section>
    </template>
    <div class="centre">
      <ShotBar :name="shot?.name" :document="plan">
        <ElSelect
          v-if="growing && look && sights.length > 1"
          v-model="pass"
          size="small"
          class="sight"
          aria-label="See"
          :empty-values="[null, undefined]"
        >
          <ElOption v-for="s in sights" :key="s.value" :value="s.value" :label="s.label" />
        </ElSelect>
        <template #end>
          <ElButton
            size="small"
            type="primary"
            :disabled="!open || versionOf(open)?.state !== 'ready'"
            @click="router.push({ name: 'correct', params: { id } })"
            >Correct…</ElButton
          >
        </template>
      </ShotBar>
      <div class="room">
        <LookView
          v-if="look"
          :key="open?.versionId"
          :src="look"
          :size="size"
          :growing="growing"
          :looked="area"
          @look="area = $event"
        />
        <p v-else-if="open" class="quiet">
          {{ active.length ? 'The first look comes in a moment…' : 'There is no picture.' }}
        </p>
        <p v-else-if="loaded" class="quiet">
          Nothing has been rendered yet. Set what to render on the left; the picture appears here while it
          grows.
        </p>
      </div>
      <RenderLine
        v-if="open"
        :render="open"
        :job="job"
        :here="growing && area !== undefined"
        :differs="anew.differs.value"
        :beginning="anew.beginning.value"
        @choose="jobId = $event"
        @anywhere="area = undefined"
        @anew="anew.begin()"
        @keep="keep"
        @cancel="cancelAll"
        @again="renderMissing"
      />
      <FoldPanel v-if="renders.length" title="Versions" memory="versions" opened :summary="told">
        <RenderedVersions
          :renders="renders"
          :open="open!"
          :roster="plan.roster"
          @more="addSamples"
          @drop="dropSums"
          @open="
            openId = $event;
            jobId = undefined;
          "
        />
      </FoldPanel>
    </div>
  </StageColumns>
</template>

<style scoped>
.paper {
  height: 100%;
  padding: 10px 14px 20px;
  background: var(--paper);
}
h2 {
  margin: 0 0 8px;
  font-size: 17px;
  font-weight: 600;
}
.start {
  position: sticky;
  bottom: -20px;
  margin: 12px -14px -20px;
  padding: 8px 14px 14px;
  background: var(--paper);
  border-top: 1px solid var(--paper-line);
}
.start .el-button {
  width: 100%;
  height: auto;
  min-height: 32px;
  padding: 6px 8px;
  white-space: normal;
  line-height: 1.25;
}
.sum {
  margin: 0 0 6px;
}
.kept {
  margin: 0 0 6px;
}
.fault {
  margin: 6px 0 0;
  color: var(--alarm);
}
.centre {
  display: flex;
  flex-direction: column;
  height: 100%;
  min-width: 0;
  min-height: 0;
}
.room {
  flex: 1;
  min-height: 0;
  display: grid;
  place-items: center;
  padding: 8px;
}
.sight {
  width: 190px;
}
.quiet {
  color: var(--on-room-quiet);
}
.room .quiet {
  max-width: 380px;
  text-align: center;
}
</style>

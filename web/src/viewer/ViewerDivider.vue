<script setup lang="ts">
/** The line between before and after, dragged or moved by keys. */
const share = defineModel<number>({ required: true });
const props = defineProps<{ canvas: HTMLCanvasElement | undefined }>();

const moveTo = (next: number) => (share.value = Math.min(1, Math.max(0, next)));
function drag(e: PointerEvent): void {
  const handle = e.currentTarget as HTMLElement;
  handle.setPointerCapture(e.pointerId);
  const move = (m: PointerEvent) => {
    const box = props.canvas!.getBoundingClientRect();
    moveTo((m.clientX - box.left) / box.width);
  };
  handle.addEventListener('pointermove', move);
  handle.addEventListener('pointerup', () => handle.removeEventListener('pointermove', move), { once: true });
}
</script>

<template>
  <div
    class="divider"
    role="slider"
    tabindex="0"
    aria-label="Divider between before and after"
    :aria-valuenow="Math.round(share * 100)"
    aria-valuemin="0"
    aria-valuemax="100"
    :style="{ left: `${share * 100}%` }"
    @pointerdown.prevent="drag"
    @keydown.left.prevent="moveTo(share - 0.02)"
    @keydown.right.prevent="moveTo(share + 0.02)"
  >
    <span class="tag left">before</span><span class="tag right">after</span>
  </div>
</template>

<style scoped>
.divider {
  position: absolute;
  top: 0;
  bottom: 0;
  width: 15px;
  margin-left: -7.5px;
  cursor: ew-resize;
  touch-action: none;
}
.divider::before {
  content: '';
  position: absolute;
  inset: 0 7px;
  background: #f2f2f2;
  outline: 1px solid #2b2b2b;
}
.tag {
  position: absolute;
  top: 10px;
  padding: 1px 8px;
  background: var(--over);
  color: #f2f2f2;
  font-size: 12px;
}
.left {
  right: 16px;
}
.right {
  left: 16px;
}
</style>

<script setup lang="ts">
import { useComparison } from '../../actions/comparison';

const comparison = useComparison();
const { other, count } = comparison;
</script>

<template>
  <section class="comparison" aria-label="A and B">
    <p v-if="!other" class="row">
      <span>Compare with another clip</span>
      <ElButton size="small" data-test="keep-as-b" @click="comparison.keepAsOther()">Keep as B</ElButton>
    </p>
    <template v-else>
      <p class="row">
        <span>
          B: <b>{{ other.mode === 'mask' ? other.cutoff.toFixed(3) : other.mode }}</b>
        </span>
        <span class="buttons">
          <ElButton
            size="small"
            data-test="show-b"
            @pointerdown="comparison.show(true)"
            @pointerup="comparison.show(false)"
            @pointercancel="comparison.show(false)"
            @pointerleave="comparison.show(false)"
          >
            Hold to see
          </ElButton>
          <ElButton size="small" data-test="swap-b" @click="comparison.swap()">Swap</ElButton>
          <ElButton size="small" aria-label="Forget B" @click="comparison.clear()">×</ElButton>
        </span>
      </p>
      <p v-if="count" class="soft" data-test="b-differs">
        {{ count.texels.toLocaleString('en') }} texels differ, {{ ((100 * count.texels) / count.of).toFixed(2) }} %.
      </p>
    </template>
  </section>
</template>

<style scoped>
.comparison {
  margin-top: 12px;
  padding-top: 8px;
  border-top: 1px solid var(--rule);
}

b {
  white-space: nowrap;
}

.row {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
}

.buttons {
  display: flex;
}

.buttons .el-button + .el-button {
  margin-left: 4px;
}

.buttons .el-button {
  padding: 0 7px;
}
</style>

<script setup lang="ts">
// Views of the Stand that the studio keeps by name, for every piece.
import { MOST_VIEWS } from '@lithe-sieve/contract';
import { VIEWS_API } from '../../api/kept.api';
import KeptThings from '../../components/KeptThings.vue';
import { useNamedLook } from './named-look';

const { lookNow, lookAs } = useNamedLook();
</script>

<template>
  <KeptThings :api="VIEWS_API" what="view" :most="MOST_VIEWS" :now="lookNow" @take="lookAs" />
</template>

<script setup lang="ts">
import { EXPORT_FORMATS } from '../../../../core/exchange/corner-data.ts';
import { exportUrl } from '../../api/urls.ts';
import { useShot } from '../../stores/shot.ts';

/** The track as data for other people's programs. */
const EXPORT_NAMES: Record<(typeof EXPORT_FORMATS)[number], string> = { 'corners-csv': 'Corners, CSV', 'corners-json': 'Corners, JSON', 'homography-json': 'Homographies, JSON' };
const shot = useShot();
</script>

<template>
  <section class="section">
    <header><h2>Track data</h2></header>
    <p v-if="!shot.document?.corners || shot.rows.length === 0" class="quiet m-0">Ready as soon as the shot is followed and the corners are set.</p>
    <div v-else class="rows">
      <a v-for="format in EXPORT_FORMATS" :key="format" class="btn btn-outline-secondary text-start" :href="exportUrl(shot.shot!.id, format)" download :data-export="format"><i class="bi bi-download" /> {{ EXPORT_NAMES[format] }}</a>
      <p class="quiet m-0">Frames count from 0; pixel centres at 0.5; y down. Each file says so.</p>
    </div>
  </section>
</template>

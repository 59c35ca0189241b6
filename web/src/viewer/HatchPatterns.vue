<!-- The hatchings of outlines, by their ids. -->
<template>
  <defs>
    <pattern id="hatch-region" width="9" height="9" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
      <rect width="9" height="9" fill="var(--hatch-fill)" />
      <line x1="0" y1="0" x2="0" y2="9" stroke="var(--hatch-line)" stroke-width="1.4" />
    </pattern>
    <pattern id="hatch-keep-out" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)">
      <rect width="7" height="7" fill="var(--shade)" />
      <line x1="0" y1="0" x2="0" y2="7" stroke="var(--mark-soft)" stroke-width="3" stroke-dasharray="3 2" />
    </pattern>
  </defs>
</template>

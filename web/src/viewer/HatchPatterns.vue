<!-- The hatchings of outlines, by their ids. -->
<template>
  <defs>
    <pattern id="hatch-region" width="9" height="9" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
      <rect width="9" height="9" fill="rgb(255 255 255 / 6%)" />
      <line x1="0" y1="0" x2="0" y2="9" stroke="rgb(255 255 255 / 30%)" stroke-width="1.4" />
    </pattern>
    <pattern id="hatch-keep-out" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)">
      <rect width="7" height="7" fill="rgb(0 0 0 / 20%)" />
      <line x1="0" y1="0" x2="0" y2="7" stroke="rgb(255 255 255 / 70%)" stroke-width="3" stroke-dasharray="3 2" />
    </pattern>
  </defs>
</template>

<script setup lang="ts">
/** Patterns for materials, once a page. They follow general drafting habit: what is soft waves, what is hard is coursed. */
</script>

<template>
  <svg width="0" height="0" class="defs" aria-hidden="true">
    <defs>
      <pattern id="h-rubble" width="44" height="26" patternUnits="userSpaceOnUse">
        <rect width="44" height="26" fill="#e3d9c2" />
        <path d="M0 7q11-5 22 0t22-1M0 20q10-4 20 0t24 0M14 6v13M33 6v13M5 20v6M25 20v6M5 0v7M25 0v6" class="line" />
      </pattern>
      <pattern id="h-ashlar" width="60" height="36" patternUnits="userSpaceOnUse">
        <rect width="60" height="36" fill="#e8e0cc" />
        <path d="M0 18h60M0 0h60M30 0v18M0 18v18" class="line" />
      </pattern>
      <pattern id="h-brick" width="14" height="14" patternUnits="userSpaceOnUse">
        <rect width="14" height="14" fill="#e2c4b0" />
        <path d="M0 14L14 0M-3 3L3-3M11 17l6-6" class="line" />
      </pattern>
      <pattern id="h-dots" width="9" height="9" patternUnits="userSpaceOnUse">
        <rect width="9" height="9" fill="#efe8da" />
        <circle cx="2" cy="2" r=".8" class="dot" />
        <circle cx="6.5" cy="6.5" r=".8" class="dot" />
      </pattern>
      <pattern id="h-hatchdots" width="10" height="10" patternUnits="userSpaceOnUse">
        <rect width="10" height="10" fill="#e6e0d2" />
        <path d="M0 10L10 0" class="line" />
        <circle cx="2.5" cy="2.5" r=".8" class="dot" />
      </pattern>
      <pattern id="h-concrete" width="16" height="16" patternUnits="userSpaceOnUse">
        <rect width="16" height="16" fill="#dddad2" />
        <path d="M3 5l3-3 2 4zM11 13l2-3 2 3z" class="line" />
        <circle cx="4" cy="12" r=".9" class="dot" />
        <circle cx="12" cy="4" r=".9" class="dot" />
      </pattern>
      <pattern id="h-fibre" width="14" height="20" patternUnits="userSpaceOnUse">
        <rect width="14" height="20" fill="#f3ecc8" />
        <path d="M0 3l7 5 7-5M0 13l7 5 7-5" class="line" />
      </pattern>
      <pattern id="h-woodfibre" width="16" height="9" patternUnits="userSpaceOnUse">
        <rect width="16" height="9" fill="#e9cf9f" />
        <path d="M0 4q4-4 8 0t8 0" class="line" />
      </pattern>
      <pattern id="h-foam" width="12" height="12" patternUnits="userSpaceOnUse">
        <rect width="12" height="12" fill="#eef0e6" />
        <path d="M0 0l12 12M12 0L0 12" class="line" />
      </pattern>
      <pattern id="h-wood" width="12" height="30" patternUnits="userSpaceOnUse">
        <rect width="12" height="30" fill="#e4cfa4" />
        <path d="M3 0q2 15 0 30M8 0q-2 15 0 30" class="line" />
      </pattern>
      <pattern id="h-sheet" width="6" height="12" patternUnits="userSpaceOnUse">
        <rect width="6" height="12" fill="#e9e2d0" />
        <path d="M0 3h6M0 9h6" class="line" />
      </pattern>
      <pattern id="h-slate" width="6" height="18" patternUnits="userSpaceOnUse">
        <rect width="6" height="18" fill="#aeb4b6" />
        <path d="M0 0l6 18" class="line" />
      </pattern>
      <pattern id="h-glass" width="8" height="8" patternUnits="userSpaceOnUse">
        <rect width="8" height="8" fill="#e2ecec" />
      </pattern>
      <pattern id="h-air" width="20" height="20" patternUnits="userSpaceOnUse">
        <rect width="20" height="20" fill="#fbf9f3" />
      </pattern>
    </defs>
  </svg>
</template>

<style>
.defs {
  position: absolute;
}
.defs .line {
  fill: none;
  stroke: #6d6353;
  stroke-width: 0.8;
}
.defs .dot {
  fill: #6d6353;
}
</style>

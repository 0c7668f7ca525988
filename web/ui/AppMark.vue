<template>
  <svg
    viewBox="0 0 24 24"
    class="size-6 text-wisp"
    fill="none"
    stroke="currentColor"
    stroke-width="1.9"
    stroke-linecap="round"
    stroke-linejoin="round"
    aria-hidden="true"
  >
    <path d="M13 2.500c1.500 4-4 6-5 10-.8 3.600 1.200 7 4.500 8 4-1 6-4 5.500-7.500-.4-2.500-2-3.500-2.500-5.500" />
    <path d="M12.500 20.500c-1.800-1.600-1.700-4.200 0-6.500" />
  </svg>
</template>

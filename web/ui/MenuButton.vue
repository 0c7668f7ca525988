<script setup lang="ts">
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue'
import type { Component } from 'vue'

export interface MenuEntry {
  label: string
  icon?: Component
  danger?: boolean
  disabled?: boolean
  run: () => void
}
defineProps<{ label: string; entries: MenuEntry[]; left?: boolean; up?: boolean; buttonClass?: string }>()
</script>

<template>
  <Menu as="div" class="relative">
    <MenuButton :class="buttonClass ?? 'icon-button'" :aria-label="label" :title="label">
      <slot />
    </MenuButton>
    <MenuItems class="menu absolute" :class="[left ? 'left-0' : 'right-0', up ? 'bottom-full mb-1' : 'top-full mt-1']">
      <MenuItem v-for="entry in entries" :key="entry.label" v-slot="{ active }" :disabled="entry.disabled ?? false">
        <button
          type="button"
          class="menu-item"
          :class="{ 'menu-item-active': active, 'text-danger': entry.danger, 'text-third': entry.disabled }"
          @click="entry.run()"
        >
          <component :is="entry.icon" v-if="entry.icon" :size="15" aria-hidden="true" /> {{ entry.label }}
        </button>
      </MenuItem>
    </MenuItems>
  </Menu>
</template>

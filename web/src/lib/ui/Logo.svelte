<script lang="ts"></script>

<svg width="26" height="16" viewBox="0 0 26 16" aria-hidden="true" class="shrink-0">
  <rect x=".7" y="2.7" width="24.6" height="10.6" fill="none" stroke="var(--ink)" stroke-width="1.4" />
  <path d="M5 3v4M9 3v3M13 3v5M17 3v3M21 3v4" stroke="var(--brass)" stroke-width="1.4" />
</svg>

<script lang="ts"></script>

<!-- The straightedge under the top bar: a tick every 8 px, a long one every 40. -->
<div class="edge" aria-hidden="true"></div>

<style>
  .edge {
    height: 10px;
    border-bottom: 1px solid var(--ink);
    background:
      repeating-linear-gradient(90deg, var(--tick) 0 1px, transparent 1px 40px) 0 100% / 100% 9px no-repeat,
      repeating-linear-gradient(90deg, var(--tick) 0 1px, transparent 1px 8px) 0 100% / 100% 4px no-repeat;
  }
</style>

<script lang="ts">
  // Creates an account at any time, to keep the pocket.
  import { router } from "../router.svelte";
  import Box from "../ui/Box.svelte";
  import Button from "../ui/Button.svelte";
  import SignUpForm from "./SignUpForm.svelte";

  let { onclose, ondone }: { onclose: () => void; ondone: () => void } = $props();
</script>

<Box title="Sign up" about="Your pocket moves to your account with all its settings." {onclose} bare>
  <SignUpForm {ondone}>
    {#snippet actions(busy)}
      <div class="mt-4 flex flex-wrap items-center justify-end gap-3">
        <button type="button" class="me-auto rounded text-sm underline underline-offset-4 max-sm:w-full max-sm:pb-1 max-sm:text-start" onclick={() => router.go("/sign-in")}>Sign in instead</button>
        <Button kind="plain" onclick={onclose}>Cancel</Button>
        <Button type="submit" disabled={busy}>{busy ? "Signing up…" : "Sign up"}</Button>
      </div>
    {/snippet}
  </SignUpForm>
</Box>

//! Components that wait for their own transitions and animations, the same on both stages.

mod studio;

use studio::{Studio, stages};

/// A lid that tells how far it is open, and a spark that is there until its animation has ended.
const KILN_LID: &str = "<script setup>
import { onMounted, ref } from 'vue'
const lid = ref(), isOpen = ref(false), lit = ref(false), far = ref(''), ended = ref('')
const look = () => { far.value = Number(getComputedStyle(lid.value).opacity).toFixed(1) }
onMounted(look)
const turn = () => { isOpen.value = !isOpen.value; requestAnimationFrame(look) }
const light = () => { lit.value = true; requestAnimationFrame(() => getComputedStyle(document.querySelector('.spark')).animationName) }
</script>
<template>
  <p ref=\"lid\" :class=\"{ open: isOpen }\" @transitionend=\"ended = `${$event.propertyName} after ${$event.elapsedTime}`\">Lid</p>
  <button @click=\"turn\">Turn</button><button @click=\"look\">Look</button><button @click=\"light\">Light</button>
  <i v-if=\"lit\" class=\"spark\" @animationend=\"lit = false\">*</i>
  <output class=\"far\">{{ far }}</output><output class=\"ended\">{{ ended }}</output>
</template>
<style>
p { opacity: 0.2; transition: opacity 10s linear }
p.open { opacity: 1 }
@keyframes spark { from { scale: 1 } to { scale: 3 } }
.spark { animation: spark 2s 1s both }
</style>
";

#[test]
fn what_takes_its_time_is_seen_on_the_way_and_tells_its_end() {
    let contract = "component: ./KilnLid.vue
clauses:
  - clause: half way it is half open
    do: [{ press: button \"Turn\" }, { elapse: 5s }, { press: button \"Look\" }]
    expect: [{ text: .far, is: '0.6' }, { text: .ended, is: '' }]
  - clause: it tells when it is open
    do: [{ press: button \"Turn\" }, { elapse: 11s }, { press: button \"Look\" }]
    expect: [{ text: .far, is: '1.0' }, { text: .ended, is: opacity after 10 }]
  - clause: a spark stays as long as it glows
    do: [{ press: button \"Light\" }, { elapse: 2s }]
    expect: [{ present: .spark }]
  - clause: a spark goes out
    do: [{ press: button \"Light\" }, { elapse: 4s }]
    expect: [{ count: .spark, is: 0 }]
";
    let studio = Studio::new().with("KilnLid.vue", KILN_LID).with("KilnLid.contract.yaml", contract);
    for stage in stages() {
        let run = studio.run(&["check", "KilnLid.vue", "--stage", stage, "--effort", "quick"]);
        assert_eq!(run.code, 0, "{stage}: {}{}", run.out, run.err);
    }
}

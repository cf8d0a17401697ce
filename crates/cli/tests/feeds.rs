//! Connections over which a server speaks by itself, answered by what a contract cans.

mod studio;

use studio::{Studio, stages};

const HEAT: &str = "<script setup lang=\"ts\">
import { onMounted, onUnmounted, ref } from 'vue'
const heat = ref<number | string>('?')
let socket: WebSocket
onMounted(() => {
  socket = new WebSocket('/api/heat')
  socket.onmessage = (event) => { heat.value = JSON.parse(event.data).heat }
  socket.onclose = (event) => { heat.value = 'closed ' + event.code }
})
onUnmounted(() => socket.close())
</script>
<template><output>{{ heat }}</output><button @click=\"socket.send(JSON.stringify({ target: 620 }))\">Raise</button></template>
";

const NEWS: &str = "import { useEffect, useState } from 'react'
export default function News() {
  const [said, say] = useState<string[]>([])
  useEffect(() => {
    const source = new EventSource('/api/news')
    source.addEventListener('fired', (event) => say((all) => [...all, `${event.lastEventId}: ${event.data}`]))
    source.onerror = () => say((all) => [...all, `lost, ${source.readyState}`])
    return () => source.close()
  }, [])
  return <p>{said.join('; ')}</p>
}
";

/// The results of one component on a stage.
fn judged(studio: &Studio, component: &str, stage: &str) -> serde_json::Value {
    let results = studio.results(&[component, "--stage", stage, "--effort", "quick"]);
    results["components"][0].clone()
}

#[test]
fn a_socket_says_what_is_canned_and_hears_what_is_sent() {
    let contract = "component: ./Heat.vue
network:
  - on: WS /api/heat
    messages: [{ json: { heat: 600 } }, { json: { heat: 610 }, after: 5s }, { close: 1001, after: 1min }]
clauses:
  - clause: it shows the heat as it comes
    do: [{ elapse: 1s }]
    expect: [{ text: output, is: '600' }]
  - clause: it follows
    do: [{ elapse: 6s }]
    expect: [{ text: output, is: '610' }]
  - clause: it tells the end
    do: [{ elapse: 61s }]
    expect: [{ text: output, is: closed 1001 }]
  - clause: a press sends the target
    do: [{ elapse: 1s }, { press: button }]
    expect: [{ requested: WS /api/heat, with: { target: 620 } }]
";
    let studio = Studio::new().with("Heat.vue", HEAT).with("Heat.contract.yaml", contract);
    for stage in stages() {
        let component = judged(&studio, "Heat.vue", stage);
        assert_eq!(component["verdict"], "holds", "on the {stage} stage: {component:#}");
    }
}

#[test]
fn a_source_tells_its_events() {
    let contract = "component: ./News.tsx
network:
  - on: EVENTS /api/news
    messages: [{ event: fired, id: 7, text: kiln 2, after: 1s }, { text: nobody listens }, { close: 1000, after: 2s }]
clauses:
  - clause: what was fired is told
    do: [{ elapse: 3s }]
    expect: [{ text: p, is: '7: kiln 2; lost, 2' }]
";
    let studio = Studio::new().with("News.tsx", NEWS).with("News.contract.yaml", contract);
    for stage in stages() {
        let component = judged(&studio, "News.tsx", stage);
        assert_eq!(component["verdict"], "holds", "on the {stage} stage: {component:#}");
    }
}

#[test]
fn one_that_nothing_answers_is_lost_and_no_fault_of_the_component() {
    let studio = Studio::new().with("Heat.vue", HEAT).with("News.tsx", NEWS);
    for (component, text) in [("Heat.vue", "closed 1006"), ("News.tsx", "lost, 2")] {
        for stage in stages() {
            let run = studio.run(&["render", component, "--stage", stage]);
            assert!(run.out.contains(text), "{component} on the {stage} stage: {}{}", run.out, run.err);
        }
        let judged = judged(&studio, component, "embedded");
        assert_eq!(judged["findings"], serde_json::json!([]), "{judged:#}");
    }
}

#[test]
fn one_that_stays_open_is_left_behind() {
    let contract = "component: ./Heat.vue\nnetwork:\n  - { on: WS /api/heat, messages: [{ json: { heat: 600 } }] }\n";
    let studio =
        Studio::new().with("Heat.vue", HEAT.replace("onUnmounted(() => socket.close())\n", "")).with("Heat.contract.yaml", contract);
    let component = judged(&studio, "Heat.vue", "embedded");
    let left: Vec<&str> = component["findings"].as_array().expect("a list").iter().filter_map(|f| f["actual"].as_str()).collect();
    assert_eq!(left, ["1 open connection"], "{component:#}");
}

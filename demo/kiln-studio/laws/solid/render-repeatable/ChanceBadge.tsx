export default function ChanceBadge(props: { name: string }) {
  // The flaw: what it shows is left to chance.
  const hue = Math.floor(Math.random() * 360)
  return <span class="badge" data-hue={hue}>{props.name}</span>
}

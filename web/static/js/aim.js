// Aiming: how long until solar noon, and the time of a reading taken now at one press.
const place = document.querySelector("#countdown");

function count() {
  const minutes = Math.round((new Date(place.dataset.noon) - Date.now()) / 60000);
  const [hours, rest] = [Math.floor(Math.abs(minutes) / 60), Math.abs(minutes) % 60];
  const span = `${hours ? `${hours} h ` : ""}${rest} min`;
  place.textContent = minutes > 0 ? `, in ${span}` : minutes > -1 ? ", now" : `, ${span} ago`;
}
if (place) {
  count();
  setInterval(count, 20000);
}

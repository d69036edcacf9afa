/** The pictures of a day, newest first. */
export function makeGallery(visits) {
  function coverOf(day) {
    const visit = visits.find((one) => one.day === day);
    return thumbnail(visit.pictures[0]);
  }

  return {
    show: function show(days) {
      return days.map((day) => coverOf(day));
    },
  };
}

function thumbnail(picture) {
  return `${picture.path}?width=${Math.round(picture.width / 4)}`;
}

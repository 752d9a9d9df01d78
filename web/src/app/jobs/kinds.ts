/** What each kind of job does. */
export const KIND: Record<string, string> = {
  evaluate_edit: "Run the steps",
  dress_pieces: "Dress",
  fit_outfit: "Fit the outfit",
  take_in_file: "Take into stock",
  draw_strip: "Draw the pictures",
  take_apart: "Take apart",
  wear_piece: "Wear on the cast",
  bake_drapes: "Bake poses",
  measure_wearer: "Trial sheet",
  explain_wearer: "Causes on the sheet",
  hunt_part: "Hunt for failures",
  plan_sheet: "Plan",
};

/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_SHOW_PRIVATE_H
#define DIA_HOST_SHOW_PRIVATE_H

#include <diachrome/quantity.h>
#include <diachrome/show.h>
#include <diachrome/value.h>

#define SHOW_WORD 512 /* longest word, the zero included */

/* The next word, up to a space outside brackets and quotes; a number and its unit, as in "2.5 s",
 * are one. 0: there is none. */
int dia_show_word(const char **at, char word[SHOW_WORD]);

/* "operator.mail": a single lamp by its name. 1: it is `lamp` of that device; 0: the text is none
 * such; -1: the device has no such lamp, and a diagnostic. */
int dia_show_lamp(const struct dia_rig *rig, const char *text, uint32_t *device, uint32_t *lamp,
                  struct dia_diagnostic *wrong);

/* Parts of a picture from the first on are joined by where they are on the desk; or it is on all
 * that has a place there. */
enum dia_status dia_show_join_on_desk(struct dia_rig_layer *layer, const struct dia_rig *rig,
                                      uint32_t first, struct dia_diagnostic *wrong);
enum dia_status dia_show_all_of_desk(struct dia_rig_layer *layer, const struct dia_rig *rig,
                                     struct dia_diagnostic *wrong);

/* "curve(10mm,20mm 80mm,5mm over=4s)". */
enum dia_status dia_show_path_read(struct dia_rig_layer *layer, const char *text,
                                   struct dia_diagnostic *wrong);

/* "SHAPE" or "SHAPE(...)": what is before and inside the brackets. */
enum dia_status dia_show_brackets(const char *text, const char *example, char shape[SHOW_WORD],
                                  char inside[SHOW_WORD], struct dia_diagnostic *wrong);

/* Which of the words it is; what, named in the diagnostic, cannot be another. */
enum dia_status dia_show_choose(const char *what, const char *word, const char *const *words,
                                uint8_t *choice, struct dia_diagnostic *wrong);

/* The same of the parameters of something: "pulse has no parameter 'freq'; it has period, duty". */
enum dia_status dia_show_parameter(const char *of, const char *word, const char *const *words,
                                   uint8_t *choice, struct dia_diagnostic *wrong);

/* A time, length, speed or share behind a word. */
enum dia_status dia_show_amount(const char *clause, const char *word, enum dia_quantity kind,
                                int64_t min, int64_t max, int64_t *value,
                                struct dia_diagnostic *wrong);

/* "sine(length=1m speed=20cm/s)". */
enum dia_status dia_show_mask_read(struct dia_wave *mask, const char *text,
                                   struct dia_diagnostic *wrong);

/* As dia_rig_layer_read, with faces and drawings of files. */
enum dia_status dia_show_layer_read(struct dia_rig_layer *layer, const struct dia_rig *rig,
                                    const struct dia_drawing_files *files, const char *text,
                                    struct dia_diagnostic *wrong);

/* "PANEL.N KIND: ACTION", and "TIME PANEL.N for TIME". */
enum dia_status dia_show_cue_read(struct dia_show *show, const struct dia_rig *rig,
                                  const char *text, struct dia_diagnostic *wrong);
enum dia_status dia_show_press_read(struct dia_show *show, const struct dia_rig *rig,
                                    const char *text, struct dia_diagnostic *wrong);

/* "NAME SOURCE KEY=VALUE...", "NAME of VALUE TEXT LIMIT TEXT...", "NAME.KEY by VALUE from ...". */
enum dia_status dia_show_value_read(struct dia_show *show, const struct dia_rig *rig,
                                    const char *text, struct dia_diagnostic *wrong);
enum dia_status dia_show_choice_read(struct dia_show *show, const char *text,
                                     struct dia_diagnostic *wrong);
enum dia_status dia_show_drive_read(struct dia_show *show, const char *text,
                                    struct dia_diagnostic *wrong);

/* The value, or the layer, of a name. */
enum dia_status dia_show_value_named(const struct dia_show *show, const char *name, uint8_t *value,
                                     struct dia_diagnostic *wrong);
enum dia_status dia_show_layer_named(const struct dia_show *show, const char *name, uint8_t *layer,
                                     struct dia_diagnostic *wrong);

/* A name that no value and no choice has yet; a text in quotes, or a word. */
enum dia_status dia_show_new_name(const struct dia_show *show, const char *word,
                                  char name[DIA_RIG_NAME], struct dia_diagnostic *wrong);
enum dia_status dia_show_text_read(const char *what, const char *word, char text[DIA_VALUE_TEXT],
                                   struct dia_diagnostic *wrong);

/* "2.37" in units of the last of so many decimals. */
enum dia_status dia_show_number_read(const char *what, const char *text, uint8_t decimals,
                                     int32_t *number, struct dia_diagnostic *wrong);

/* The rows of a file for a value; what it was told to be. DIA_PORT_FAILED: no room for more. */
enum dia_status dia_show_csv_read(struct dia_show_value *value, const char *path,
                                  struct dia_diagnostic *wrong);
enum dia_status dia_show_reading(struct dia_show_value *value, uint32_t ms, int32_t number);

/* Texts and parameters of layers as the values of a time make them. DIA_PORT_FAILED: memory ran
 * out. */
enum dia_status dia_show_values_at(struct dia_show *show, uint32_t ms, struct dia_rig_layer *now);

/* Names and numbers of values and choices as texts take them: how many. And what values drive. */
uint8_t dia_show_all_at(const struct dia_show *show, uint32_t ms, struct dia_value *out);
void dia_show_drive_all(const struct dia_show *show, uint32_t ms, struct dia_rig_layer *now);

/* The presses that came in, and what those of before amount to, go over to another form of the
 * show. DIA_PORT_FAILED: memory ran out. */
enum dia_status dia_show_take_presses(struct dia_show *to, const struct dia_show *from);

/* From a time on nothing has come in yet. */
void dia_show_forget_from(struct dia_show *show, uint32_t ms);

/* A parameter that cues change was set by hand at a time, if it is one. */
void dia_show_by_hand(struct dia_show *show, uint32_t layer, const struct dia_param *param,
                      uint32_t ms);

/* Cues as they stand at a time, over layers and fields of knobs that are given. */
struct dia_show_cued {
    struct dia_cues cues;
    struct dia_layer layers[DIA_RIG_LAYERS];
    struct dia_cued states[DIA_RIG_LAYERS];
    struct dia_knob knobs[DIA_SHOW_CUES];
};
void dia_show_cue_to(const struct dia_show *show, uint32_t ms, struct dia_rig_layer *layers,
                     struct dia_show_cued *cued);

/* What a value of keys is at a time. */
int32_t dia_show_stepped(const struct dia_show *show, const struct dia_show_value *v, uint32_t ms);

/* What the presses amount to that have changed since the last time. DIA_PORT_FAILED when memory ran
 * out. */
enum dia_status dia_show_hear(struct dia_show *show);

/* A press has changed that begins then. */
void dia_show_unheard(struct dia_show *show, uint32_t ms);

/* The latest time until one given at which all presses before have nothing more to tell. */
uint32_t dia_show_quiet_before(const struct dia_show *show, uint32_t ms);

/* Which keys of a device are down at a time. */
uint8_t dia_show_held(const struct dia_show *show, uint32_t device, uint32_t ms);

#endif

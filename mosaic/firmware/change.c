#include "change.h"

change_box change_strip(int32_t change, int32_t side, int32_t step, int32_t steps, int32_t width, int32_t height) {
    const int32_t length = side <= CHANGE_RIGHT ? width : height;
    const int32_t before = change == CHANGE_WIPE ? length * (step - 1) / steps : 0, now = length * step / steps;
    const int32_t low = side == CHANGE_LEFT || side == CHANGE_UP ? length - now : before;
    const change_box across = {low, 0, now - before, height}, along = {0, low, width, now - before};
    return side <= CHANGE_RIGHT ? across : along;
}

static void land(void *context, int32_t x, int32_t y, int32_t w, int32_t h, uint32_t c) {
    const change_move *move = (const change_move *)context;
    draw_fill(move->to, x + move->dx, y + move->dy, w, h, c);
}

draw_surface change_moved(change_move *move, const draw_surface *to, int32_t side, const change_box *b, int32_t width, int32_t height) {
    const draw_surface whole = {0, width, height, 0, 0, 0, 0, 0, 0, 0, 0, width, height, 0, 0, 0, 0, land, move, 0, 0, 0, 0, 0, 0};
    move->to = to;
    move->dx = side == CHANGE_LEFT ? b->x : side == CHANGE_RIGHT ? b->w - width : 0;
    move->dy = side == CHANGE_UP ? b->y : side == CHANGE_DOWN ? b->h - height : 0;
    return whole;
}

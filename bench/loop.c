/* The run of src/irontrail/core/engine/kernel.py for proportional steering, written plainly in C, as its yardstick.
 *
 * Same equations, same order of operations, same trace; sine and cosine by the library at every step, as one would
 * write it. Parameters arrive as an array of doubles in the order of the enum; bench/engine.py fills it. */
#include <math.h>
#include <stdint.h>
#include <stdlib.h>

enum {
    TRACK, LEFT_TOP, RIGHT_TOP, RESPONSE, DEAD_BAND, GRIP, POWER_STEP, AHEAD, ASIDE, LAMP_SHARE, ROOM_SHARE, DARK_LEVEL,
    NOISE, READING_STEP, DARK, BRIGHT, MM_PER_PX, MAT_WIDTH, MAT_HEIGHT, LIGHT_TURN, TARGET, SPEED, GAIN, LOOP_TIME,
    DELAY, MAX_STEP, ROUTE_STEP, HALF_TAPE, EDGE_SIGN, FINISH, START_X, START_Y, START_HEADING, START_S, TIME_LIMIT,
    LOST_DISTANCE, STUCK_TIME, CLOSED, SEED
};

static double clamp(double v, double low, double high) { return v < low ? low : v > high ? high : v; }
static double half_away(double v) { return v >= 0 ? floor(v + 0.5) : ceil(v - 0.5); }

static double uniform(uint64_t *state) {
    *state += 0x9E3779B97F4A7C15ULL;
    uint64_t z = *state;
    z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9ULL;
    z = (z ^ (z >> 27)) * 0x94D049BB133111EBULL;
    z ^= z >> 31;
    return ((double)(z >> 11) + 0.5) / 9007199254740992.0;
}

static double normal(uint64_t *state) {
    double first = uniform(state), second = uniform(state);
    return sqrt(-2.0 * log(first)) * cos(2.0 * M_PI * second);
}

static double field_at(const float *field, long rows, long columns, double x, double y) {
    double px = clamp(x - 0.5, 0.0, columns - 1.000001), py = clamp(y - 0.5, 0.0, rows - 1.000001);
    long i = (long)px, j = (long)py;
    double fx = px - i, fy = py - j;
    const float *at = field + j * columns + i;
    double low = at[0] * (1 - fx) + at[1] * fx, high = at[columns] * (1 - fx) + at[columns + 1] * fx;
    return low * (1 - fy) + high * fy;
}

static double segment(double x0, double y0, double x1, double y1, double x, double y, double *share) {
    double dx = x1 - x0, dy = y1 - y0;
    *share = clamp(((x - x0) * dx + (y - y0) * dy) / (dx * dx + dy * dy), 0.0, 1.0);
    double ox = x - x0 - *share * dx, oy = y - y0 - *share * dy, d = sqrt(ox * ox + oy * oy);
    return dx * (y - y0) - dy * (x - x0) >= 0 ? d : -d;
}

static long wrap(long n, long size) { long i = n % size; return i < 0 ? i + size : i; }

static double find(const double *p, const double *rx, const double *ry, long n, double *s, double x, double y) {
    long segments = n - 1, first = (long)floor((*s - 60.0) / p[ROUTE_STEP]);
    long last = (long)floor((*s + 60.0) / p[ROUTE_STEP]) + 1, nearest, i;
    int closed = p[CLOSED] != 0;
    double best2 = INFINITY, best = INFINITY, best_s = *s, share;
    if (!closed) { if (first < 0) first = 0; if (last > segments) last = segments; }
    nearest = first;
    i = closed ? wrap(first, segments) : first;
    for (long k = first; k <= last; k++) {
        double dx = x - rx[i], dy = y - ry[i], d2 = dx * dx + dy * dy;
        if (d2 < best2) { best2 = d2; nearest = k; }
        if (++i > segments) i = 1;
    }
    for (long k = nearest - 1; k <= nearest; k++) {
        if (!closed && (k < 0 || k >= segments)) continue;
        i = closed ? wrap(k, segments) : k;
        double d = segment(rx[i], ry[i], rx[i + 1], ry[i + 1], x, y, &share);
        if (fabs(d) < fabs(best)) { best = d; best_s = (k + share) * p[ROUTE_STEP]; }
    }
    *s = best_s;
    return best;
}

static double limited(const double *p, double power) {
    power = clamp(power, -100.0, 100.0);
    return clamp(p[POWER_STEP] * half_away(power / p[POWER_STEP]), -100.0, 100.0);
}

/* Fills trace (12 columns, each `most` long) and returns the rows used; *end is the time, *outcome the kernel's code. */
long run(const double *p, const float *field, long frows, long fcolumns, const double *rx, const double *ry, long n,
         double *trace, long most, double *end, long *outcome) {
    long steps = (long)ceil(p[LOOP_TIME] / p[MAX_STEP] - 1e-9);
    double dt = p[LOOP_TIME] / steps, friction = p[GRIP] * 9810.0, age = p[DELAY] / dt;
    double response = 1.0 - exp(-dt / p[RESPONSE]);
    long whole = (long)age, size = whole + 2, newest = 0, row = 0;
    double part = age - whole;
    double x = p[START_X], y = p[START_Y], h = p[START_HEADING], lr = 0, rr = 0, lu = 0, ru = 0, skid = 0;
    double sx = x + p[AHEAD] * cos(h) - p[ASIDE] * sin(h), sy = y + p[AHEAD] * sin(h) + p[ASIDE] * cos(h);
    double *tx = malloc(size * sizeof *tx), *ty = malloc(size * sizeof *ty);
    for (long i = 0; i < size; i++) { tx[i] = sx; ty[i] = sy; }
    uint64_t state = (uint64_t)p[SEED];
    double s = p[START_S], before = s, stirred_s = s, stirred = 0, time;
    *outcome = 0;
    for (;;) {
        time = row * p[LOOP_TIME];
        sx = tx[newest]; sy = ty[newest];
        double edge = p[EDGE_SIGN] * find(p, rx, ry, n, &s, sx, sy) - p[HALF_TAPE];
        if (s - stirred_s >= 5.0) { stirred = time; stirred_s = s; }
        if (sx < 0 || sy < 0 || sx > p[MAT_WIDTH] || sy > p[MAT_HEIGHT]) *outcome = 2;
        else if (fabs(edge) > p[LOST_DISTANCE]) *outcome = 3;
        else if (s >= p[FINISH]) *outcome = 1;
        else if (time - stirred >= p[STUCK_TIME]) *outcome = 4;
        else if (time >= p[TIME_LIMIT] - 1e-9) *outcome = 5;
        long near = wrap(newest - whole, size), far = wrap(newest - whole - 1, size);
        double fx = tx[near] * (1 - part) + tx[far] * part, fy = ty[near] * (1 - part) + ty[far] * part;
        double level = (p[LAMP_SHARE] + p[ROOM_SHARE]) *
                       field_at(field, frows, fcolumns, fx / p[MM_PER_PX], fy / p[MM_PER_PX]) + p[DARK_LEVEL];
        double raw = clamp(level + p[NOISE] * normal(&state), 0.0, 100.0);
        if (p[READING_STEP] > 0) raw = fmin(p[READING_STEP] * half_away(raw / p[READING_STEP]), 100.0);
        double reading = clamp(100.0 * (raw - p[DARK]) / (p[BRIGHT] - p[DARK]), 0.0, 100.0);
        double steer = p[LIGHT_TURN] * p[GAIN] * (reading - p[TARGET]);
        double left = limited(p, p[SPEED] + steer), right = limited(p, p[SPEED] - steer);
        double values[12] = {time, x, y, h, reading, steer, left, right, lu, ru, s - p[START_S], edge};
        for (int c = 0; c < 12; c++) trace[c * most + row] = values[c];
        row++;
        if (*outcome || row >= most) break;
        before = s;
        double lt = fabs(left) >= p[DEAD_BAND] ? p[LEFT_TOP] * left / 100.0 : 0.0;
        double rt = fabs(right) >= p[DEAD_BAND] ? p[RIGHT_TOP] * right / 100.0 : 0.0;
        for (long k = 0; k < steps; k++) {
            double l0 = lu, r0 = ru, reach = friction * dt;
            lr += (lt - lr) * response; lu += clamp(lr - lu, -reach, reach);
            rr += (rt - rr) * response; ru += clamp(rr - ru, -reach, reach);
            if (fabs(lr - lu) > 5.0) skid += fabs(lr - lu);
            if (fabs(rr - ru) > 5.0) skid += fabs(rr - ru);
            double lm = 0.5 * (l0 + lu), rm = 0.5 * (r0 + ru), v = 0.5 * (lm + rm), w = (rm - lm) / p[TRACK];
            if (fabs(v * w) > friction) w = w > 0 ? friction / fabs(v) : -friction / fabs(v);
            double middle = h + 0.5 * w * dt;
            x += v * cos(middle) * dt; y += v * sin(middle) * dt; h += w * dt;
            if (++newest == size) newest = 0;
            double c = cos(h), d = sin(h);
            tx[newest] = x + p[AHEAD] * c - p[ASIDE] * d; ty[newest] = y + p[AHEAD] * d + p[ASIDE] * c;
        }
    }
    if (*outcome == 1 && s > before) time -= p[LOOP_TIME] * (s - p[FINISH]) / (s - before);
    *end = time;
    free(tx); free(ty);
    return row;
}

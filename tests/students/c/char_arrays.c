#include "cart.h"
#include <stdio.h>
#include <string.h>
char route[] = "FFLB";
static char last[12];
char names[3][8] = {"go", "slow", "stop"};
struct Leg { char name[6]; int power; };
struct Leg legs[2] = { {"one", 30}, {"two", -30} };
const char order[] = {'F', 'B', '\0', 'L'};
int length(char text[]) { int n = 0; while (text[n]) n++; return n; }
int letters_of(const char *text) { return (int) strlen(text); }
void shout(char *text) {
    for (int i = 0; text[i] != '\0'; i++) if (text[i] >= 'a' && text[i] <= 'z') text[i] -= 32;
}
void fill(char to[], int count) { for (int i = 0; i < count; i++) to[i] = 'a' + i; to[count] = 0; }
int main() {
    wheels(sizeof(route), strlen(route)); rest(50);
    for (int i = 0; i < (int) sizeof(route) - 1; i++) {
        wheels(route[i] == 'F' ? 30 : route[i] == 'L' ? -20 : 5, i); rest(50);
    }
    route[1] = 'B';
    wheels(strcmp(route, "FBLB") == 0 ? 41 : 42, strcmp(route, "FFLB")); rest(50);
    strcpy(last, "turn");
    strcat(last, "ed");
    call(last);
    wheels(strlen(last), strcmp(last, "turned")); rest(50);
    strncpy(last, "abcdef", 3);
    wheels(strncmp(last, "abcned", 6), last[3]); rest(50);
    for (int i = 0; i < 3; i++) { wheels(strcmp(names[i], "slow"), letters_of(names[i])); rest(30); }
    strcpy(names[1], "fast");
    wheels(strcmp(names[1], "fast") ? 1 : 2, length(names[1])); rest(50);
    for (int i = 0; i < 2; i++) { wheels(legs[i].power, strcmp(legs[i].name, "two")); rest(50); }
    strcpy(legs[0].name, "new");
    call(legs[0].name);
    char word[10] = "quiet";
    shout(word);
    call(word);
    char few[8];
    fill(few, 4);
    wheels(strcmp(few, "abcd") == 0, length(few)); rest(50);
    memset(few, 0, sizeof few);
    wheels(strlen(few), sizeof few); rest(50);
    char text[20];
    int made = snprintf(text, 6, "%d:%s", 12, "much");
    wheels(made, strlen(text)); call(text); rest(50);
    made = sprintf(text, "%s=%03d", "x", 7);
    wheels(made, strlen(text)); call(text); rest(50);
    wheels(strlen(order), order[3] == 'L' ? 7 : 8); rest(50);
    char copy[8] = {"abc"};
    copy[strlen(copy) - 1] = 'd';
    wheels(strcmp(copy, "abd"), strchr(copy, 'b') != NULL); rest(50);
    const char *heard_now = heard();
    char kept[16] = "";
    if (heard_now != NULL) strcpy(kept, heard_now);
    wheels(strlen(kept), kept[0] ? 3 : 4); rest(50);
    for (int i = 0; i < 300 && strcmp(latest(), "go") != 0; i++) rest(100);
    strcpy(kept, latest());
    wheels(strlen(kept), strcmp(kept, "go")); rest(50);
    char both[8];
    call(strcat(strcpy(both, "ab"), "cd"));
    wheels(strlen(strncat(both, "efgh", 2)), strcmp(both, "abcdef")); rest(50);
    halt();
}

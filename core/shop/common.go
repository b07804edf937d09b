package shop

import (
	"slices"
	"strings"
	"unicode"
)

// commonWords are what the most used passwords are made of: ten letters or more of these alone, with digits and signs between
// them, are guessed first. From memory of published lists of leaked passwords (NIST SP 800-63B, 5.1.1.2, asks for such a list).
var commonWords = []string{
	"password", "passwort", "passw", "pass", "word", "qwertyuiop", "qwerty", "qwertz", "azerty", "asdfghjkl", "asdfgh", "asdf",
	"zxcvbnm", "zxcvbn", "yxcvbnm", "letmein", "welcome", "admin", "administrator", "root", "login", "secret", "changeme", "default",
	"iloveyou", "loveyou", "love", "monkey", "dragon", "sunshine", "princess", "football", "baseball", "basketball", "superman",
	"batman", "master", "shadow", "michael", "jordan", "trustno", "whatever", "starwars", "computer", "internet", "hello", "freedom",
	"summer", "winter", "spring", "autumn", "january", "february", "march", "april", "june", "july", "august", "september", "october",
	"november", "december", "monday", "friday", "sunday", "carwash", "detailing", "uskel", "test", "guest", "user", "abcdefghij",
	"abcdef", "abcd", "abc", "aaa", "xxx", "qazwsx", "qwe", "asd", "zxc", "one", "the", "my", "is", "i", "a", "b", "x", "e", "o",
}

// undoLooks turns the signs that stand for letters back into them.
var undoLooks = strings.NewReplacer("@", "a", "$", "s", "3", "e", "0", "o", "1", "i", "!", "i", "5", "s", "7", "t", "4", "a")

// common reports whether a password is made of the most used ones alone: of their words, of digits, of the person's own names.
func common(password string, own ...string) bool {
	words := slices.Clone(commonWords)
	for _, name := range own {
		words = append(words, strings.FieldsFunc(strings.ToLower(name), func(r rune) bool { return !unicode.IsLetter(r) })...)
	}
	slices.SortFunc(words, func(a, b string) int { return len(b) - len(a) })
	plain := strings.ToLower(password)
	return onlyOf(plain, words) || onlyOf(undoLooks.Replace(plain), words)
}

// onlyOf reports whether nothing of a text is left when words, digits and signs are taken out of it.
func onlyOf(text string, words []string) bool {
	for _, w := range words {
		text = strings.ReplaceAll(text, w, " ")
	}
	return !strings.ContainsFunc(text, unicode.IsLetter)
}

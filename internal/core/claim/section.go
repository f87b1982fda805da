package claim

import (
	"crypto/sha256"
	"encoding/hex"
	"maps"
	"slices"
	"strings"

	"turret/internal/core/portfolio"
	"turret/internal/core/standing"
)

// Needed tells whether a section must not be missing where a project, or a group with no stage,
// stands so.
func Needed(s portfolio.Section, stage string, overall standing.Standing) bool {
	if len(s.Stages) > 0 && !slices.Contains(s.Stages, stage) {
		return false
	}
	switch s.Wanted {
	case portfolio.Always:
		return true
	case portfolio.AtWatch:
		return overall >= standing.Watch
	case portfolio.AtAct:
		return overall >= standing.Act
	}
	return false
}

// Missing are the sections that are needed and not said, in their order. Blanks say nothing.
func Missing(all []portfolio.Section, stage string, overall standing.Standing, said map[string]string) (out []portfolio.Section) {
	for _, s := range all {
		if Needed(s, stage, overall) && strings.TrimSpace(said[s.Code]) == "" {
			out = append(out, s)
		}
	}
	return out
}

// Digest tells words by section from any others: the first 32 hexadecimal digits of the SHA-256 of
// each section's code and text, in the order of codes, each ended by a zero byte. It is "" where
// nothing is said.
func Digest(said map[string]string) string {
	h := sha256.New()
	any := false
	for _, code := range slices.Sorted(maps.Keys(said)) {
		if strings.TrimSpace(said[code]) == "" {
			continue
		}
		any = true
		h.Write([]byte(code + "\x00" + said[code] + "\x00"))
	}
	if !any {
		return ""
	}
	const digits = 32
	return hex.EncodeToString(h.Sum(nil))[:digits]
}

package problem

// SearchMost is the longest search, in characters.
const SearchMost = 100
